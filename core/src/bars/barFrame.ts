import type { Frame } from '../formula/frame.js';
import type { Calendar } from '../time/calendar.js';
import { BAR_COLUMNS, type Bars } from './bars.js';

/**
 * Bars as formulas see them.
 * @param calendar  of the tape, for windows by session and day and for what a year is made of
 * @param rule      the bar rule as written
 * @param tape      its name, which its formulas may call
 * @param others    frames of other tapes by name
 * @param words     of the text columns
 * @param aliases   further names of columns
 */
export function frameOf(
  bars: Bars,
  calendar: Calendar,
  { rule, others, tape, words, aliases }: Pick<Frame, 'rule' | 'others' | 'tape' | 'words' | 'aliases'> = {},
): Frame {
  const columns = Object.fromEntries([...BAR_COLUMNS].map((name) => [name, bars[name as 'close']]));
  const { time, end, texts, numbers } = bars;
  return { time, end, columns: { ...columns, ...numbers }, texts, words, calendar, rule, others, tape, aliases };
}
