import { draftSentences, instantOf, makeCalendar, type DraftLine } from '@jaunty-ledger/core';
import type { Setting } from '$lib/api/handovers';
import { momentFigures } from '$lib/plots/stretchText';
import { own } from './own';
import { lastRowOf, numbersOf, type TapeTold, type ToldColumns } from './take';

/** Rows that the change of a first sentence goes over. */
const BACK = 5;
const YEAR_MS = 365 * 86_400e3;

/** What a row of bars is called in a sentence. */
const rowWord = (bars: string): string => /^1 (day|week|month|quarter|year)\b/.exec(bars)?.[1] ?? 'bar';

/** A first paragraph of what the columns of an answer show. @param trust  what was found of its projection on data held back */
export function draftText(setting: Setting, answer: ToldColumns, tape: TapeTold, trust = ''): string {
  const rows = lastRowOf(answer) + 1;
  const values = (name: string) => Float64Array.from(numbersOf(answer, name), (value) => value ?? NaN);
  const time = answer.columns.time.map(String);
  const column = answer.columns.close ? 'close' : 'value';
  const calendar = makeCalendar({ zone: tape.zone, ...(tape.precision === 'period' && { undated: true }) });
  const row = rowWord(setting.bars);
  const precision = tape.precision === 'moment' && row !== 'bar' ? 'day' : tape.precision;
  const since = Date.parse(time[rows - 1] ?? '') - YEAR_MS;
  const lines = answer.entries
    .filter(({ name }) => own(answer.columns, name))
    .map((facts): DraftLine => {
      const all = values(facts.name);
      // a projection is told where it ends
      return { ...facts, lag: facts.lag ?? NaN, values: facts.role === 'projection' ? all : all.subarray(0, rows) };
    });
  const sentences = draftSentences({
    ...{ name: tape.name, price: values(column).subarray(0, rows), column, lines, back: BACK, row, trust },
    yearRows: time.slice(0, rows).filter((at) => Date.parse(at) >= since).length,
    timeText: (at) => momentFigures(instantOf(time[at]), calendar, precision),
  });
  return sentences.join(' ');
}
