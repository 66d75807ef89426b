import {
  BAR_COLUMNS,
  barsBetween,
  evaluate,
  frameOf,
  makeCalendar,
  namesOf,
  planEntries,
  type Calendar,
  type Frame,
  type Unit,
} from '@jaunty-ledger/core';
import { refuse } from '$lib/api/problems';
import { aliasesOf, calendarOptions } from '$lib/api/tapes';
import type { StoredTape } from '../store/tapeRows';
import { otherFrames } from './otherFrames';
import type { Range } from './range';
import type { Tools } from './taskKind';

/** One entry of bars that is asked for. */
export interface OneColumnInput {
  tape: StoredTape;
  rule: string;
  flagged: boolean;
  entry: string;
  /** Further entries that it uses. */
  entries: string[];
  stretch: Range | undefined;
}

interface OneColumn {
  frame: Frame;
  calendar: Calendar;
  /** The rule as it is printed. */
  rule: string;
  /** The formula in words. */
  phrase: string;
  unit: Unit;
  values: Float64Array;
}

/** The column of one entry over the bars of a stretch. @throws {Refusal | FormulaError} where it cannot be had */
export async function oneColumn(input: OneColumnInput, mostRows: number, tools: Tools): Promise<OneColumn> {
  const { tape, entry, entries, stretch } = input;
  const { bars: all, rule } = await tools.bars.of(tape, input, tools.course);
  const bars = stretch ? barsBetween(all, stretch.from, stretch.to).bars : all;
  if (bars.time.length > mostRows)
    throw refuse(
      'too-many-bars',
      `${bars.time.length.toLocaleString('en')} bars are more than the ${mostRows.toLocaleString('en')} that are looked at at once. Choose longer bars, or a shorter stretch.`,
    );
  const calendar = makeCalendar(calendarOptions(tape));
  // an entry cannot have the name of a column, but a column can be asked for
  const isColumn = [...BAR_COLUMNS, ...tape.numbers.map(({ name }) => name), ...aliasesOf(tape).keys()].includes(
    entry.trim(),
  );
  const texts = [...entries, isColumn ? `examined_column = ${entry}` : entry];
  const others = await otherFrames({ ...input, entries: texts }, tools);
  const words = new Map(tape.texts.map((text) => [text.name, text.words]));
  const frame = frameOf(bars, calendar, { rule, others, tape: tape.name, words, aliases: aliasesOf(tape) });
  const plans = planEntries(texts, namesOf(frame)).filter(({ entryIndex }) => entryIndex === entries.length);
  if (plans.length > 1)
    throw refuse('invalid-formula', `\`${entry}\` is a fan of ${plans.length} lines; choose one of them.`);
  const [{ name, phrase, unit }] = plans;
  const column = evaluate(texts, frame, { progress: tools.course.goOn }).find((one) => one.name === name)!;
  return { frame, calendar, rule, phrase, unit, values: column.values };
}
