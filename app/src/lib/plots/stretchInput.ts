import { toldStretch, type Calendar, type Stretch } from '@jaunty-ledger/core';

/**
 * The stretch between two ends that are typed; an end that is left empty is that of the bars.
 * @returns what is wrong with them, in words, where they are none
 */
export function readStretch(fromText: string, toText: string, calendar: Calendar): Stretch | string {
  const read = (text: string) => (text.trim() === '' ? { from: -Infinity, to: Infinity } : toldStretch(text, calendar));
  const [first, last] = [read(fromText), read(toText)];
  const wrong = first ? toText : fromText;
  if (!first || !last)
    return calendar.undated
      ? `\`${wrong}\` is no period; write its number, such as 12`
      : `\`${wrong}\` is no time; write as much of one as is meant, such as 2026, Mar 2026, 2026-03-02 or 2026-03-02 10:00`;
  if (last.to <= first.from) return `\`${toText}\` lies before \`${fromText}\``;
  return { from: first.from, to: last.to };
}
