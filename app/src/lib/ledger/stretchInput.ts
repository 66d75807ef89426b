import {
  periodNumber,
  rfc3339,
  toldStretch,
  type Calendar,
  type Instant,
  type Precision,
  type Stretch,
} from '@jaunty-ledger/core';

/** An end of a stretch as it is typed and shown: `2026-02-02 08:30`, `2026-02-02`, `2026-02`, `2026`, or `7` of a period. */
export function endText(at: Instant, calendar: Calendar, precision: Precision): string {
  if (precision === 'period') return String(periodNumber(at));
  const text = rfc3339(calendar.zone.wallAt(at));
  const lengths = { year: 4, quarter: 7, month: 7, day: 10, moment: 16 };
  return text.slice(0, lengths[precision]).replace('T', ' ');
}

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
