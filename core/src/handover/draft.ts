import type { EntryFacts } from './entryFacts.js';
import { runNow, shareBelowNow, standingNow } from './standing.js';

/** A line that a paragraph can tell of: values on the rows of the price, the last row last. */
export interface DraftLine extends EntryFacts {
  values: Float64Array;
}

export interface DraftSubject {
  /** What the price is of. */
  name: string;
  price: Float64Array;
  /** The column that the price is, as a formula calls it. */
  column: string;
  lines: readonly DraftLine[];
  /** Rows of a change that is told, such as 5. */
  back: number;
  /** Rows of a year, or of what there is. */
  yearRows: number;
  /** What one row is called: `day`, `bar`. */
  row: string;
  /** When a row is, in words. */
  timeText: (row: number) => string;
  /** What was found of a projection on data held back, as a sentence; empty where it was not tried. */
  trust: string;
}

/** Averages and bands that are told of; a reader would not follow more. */
const MOST_TOLD = 3;

/**
 * A first paragraph of what a chart shows: where the price stands, its averages and ends, how wild it is, whether it
 * remembers, what a projection says. Figures stand as formulas in braces, `{close}`, and are filled in by whoever shows it.
 * Says what is, and gives no advice.
 */
export function draftSentences(subject: DraftSubject): string[] {
  const { name, price, column, lines, back, timeText, row } = subject;
  const last = price.length - 1;
  if (last < 0 || Number.isNaN(price[last])) return [`${name} has no value in the last ${row} shown.`];
  const isMoved = last >= back && price[last - back] > 0;
  const moved = isMoved ? `, {change ${back} bars} over the last ${counted(back, row)}` : '';
  const ofRole = (role: DraftLine['role']) => lines.filter((line) => line.role === role && line.values.length > 0);
  const averages = ofRole('average').slice(0, MOST_TOLD);
  return [
    `${name} stood at {last ${column}} on ${timeText(last)}${moved}.`,
    ...averages.flatMap((line) => averageSentences(subject, line)),
    ...bandSentences(subject, ofRole('upper')[0], ofRole('lower')[0]),
    ...ofRole('volatility')
      .slice(0, 1)
      .flatMap((line) => volatilitySentences(subject, line)),
    ...ofRole('memory').slice(0, 1).flatMap(memorySentences),
    ...ofRole('projection')
      .slice(0, 1)
      .map((line) => projectionSentence(subject, line)),
    ...lagSentences(subject, averages),
  ];
}

const counted = (count: number, noun: string): string =>
  `${count.toLocaleString('en')} ${noun}${count === 1 ? '' : 's'}`;

function averageSentences({ price, row, timeText }: DraftSubject, line: DraftLine): string[] {
  const standing = standingNow(price, line.values);
  if (!standing) return [];
  const { side, since, rows, isOpen } = standing;
  const long = isOpen
    ? `for all of the ${counted(rows, row)} that the average has a value`
    : `for ${counted(rows, row)}, since ${timeText(since)}`;
  const run = runNow(line.values);
  const where = side === 'at' ? 'exactly at' : side;
  const stood = `It has stood ${where} ${line.name}, the ${line.phrase}, at {last ${line.name}}, ${long}.`;
  if (run === 0) return [stood];
  return [stood, `The average ${line.name} has ${run > 0 ? 'risen' : 'fallen'} for ${counted(Math.abs(run), row)}.`];
}

function bandSentences({ price }: DraftSubject, upper?: DraftLine, lower?: DraftLine): string[] {
  if (!upper || !lower) return [];
  const at = price.length - 1;
  const [high, low, value] = [upper.values[at], lower.values[at], price[at]];
  if (!(high >= low)) return [];
  const where = value > high ? 'above' : value < low ? 'below' : 'within';
  return [`The price lies ${where} its band of {last ${lower.name}} to {last ${upper.name}}.`];
}

function volatilitySentences({ yearRows, row }: DraftSubject, line: DraftLine): string[] {
  const before = Math.min(yearRows, line.values.length - 1);
  const share = shareBelowNow(line.values, before);
  if (Number.isNaN(share)) return [];
  const percent = Math.round(100 * share);
  return [
    `Its volatility, ${line.name} (the ${line.phrase}), is {last ${line.name}}, higher than on ${percent} of 100 of the ${counted(before, row)} before.`,
  ];
}

function memorySentences(line: DraftLine): string[] {
  const h = line.values[line.values.length - 1];
  if (Number.isNaN(h)) return [];
  const says =
    h > 0.55
      ? 'moves have tended to go on the way they went'
      : h < 0.45
        ? 'moves have tended to turn back'
        : 'moves have told little of the ones after them';
  return [`Its exponent of memory, ${line.name}, is {last ${line.name}}: ${says}.`];
}

function projectionSentence({ trust }: DraftSubject, line: DraftLine): string {
  const far = `The ${line.phrase} ends at {last ${line.name}}.`;
  return trust ? `${far} ${trust}` : far;
}

function lagSentences({ row }: DraftSubject, averages: readonly DraftLine[]): string[] {
  const late = averages.filter(({ lag, looksAhead }) => lag > 0 && !looksAhead);
  if (late.length === 0) return [];
  const each = late.map(({ name, lag }) => `${name} by about ${Number(lag.toFixed(1))} ${row}s`);
  return [`A smoothed line is late (${each.join(', ')}) and is no forecast.`];
}
