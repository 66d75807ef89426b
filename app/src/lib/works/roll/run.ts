import {
  evaluate,
  frameOf,
  makeCalendar,
  namesOf,
  planEntries,
  rfc3339,
  type Column,
  type Plan,
} from '@jaunty-ledger/core';
import { fittingRule } from '$lib/api/fittingRule';
import { SPARK_VALUES, type RollRow } from './work';
import { aliasesOf, calendarOptions } from '$lib/api/tapes';
import type { StoredTape } from '$lib/server/store/tapeRows';
import { figure, figures } from '../figures';
import { wrongWithOne } from '$lib/server/tasks/ofOneTape';
import { otherFrames } from '$lib/server/tasks/otherFrames';
import type { TaskKind, Tools } from '$lib/server/tasks/taskKind';

export interface RollPartInput {
  tapes: StoredTape[];
  rule: string;
  entries: string[];
  flagged: boolean;
  back: number;
}

/** Some rows of a roll: the last values of a ledger's entries on some tapes, as JSON. */
export const rollPart: TaskKind<RollPartInput> = {
  isPart: true,
  records: ({ tapes, entries }) => tapes.reduce((sum, { rows }) => sum + rows, 0) * (1 + entries.length / 4),
  answerKey: ({ tapes, ...rest }) => JSON.stringify([tapes.map(({ id, version }) => [id, version]), rest]),
  run: async (input, tools) => {
    const rows: RollRow[] = [];
    for (const [at, tape] of input.tapes.entries()) {
      tools.course.goOn(at / input.tapes.length);
      rows.push(await rowOf(tape, input, tools));
    }
    return new TextEncoder().encode(JSON.stringify(rows));
  },
};

/** The row of a tape; why there is none where there is none, so that the others stand. */
async function rowOf(tape: StoredTape, input: RollPartInput, tools: Tools): Promise<RollRow> {
  const about = { tape: tape.name, version: tape.version, rule: input.rule, bars: 0, at: null, values: [] };
  try {
    const { entries, flagged, back } = input;
    const fitting = fittingRule(input.rule, tape);
    const { bars, rule } = await tools.bars.of(tape, { rule: fitting, flagged }, tools.course);
    const calendar = makeCalendar(calendarOptions(tape));
    const readsOthers = entries.some((entry) => entry.includes('.'));
    const others = readsOthers ? await otherFrames({ tape, entries, rule: fitting, flagged }, tools) : {};
    const words = new Map(tape.texts.map((text) => [text.name, text.words]));
    const frame = frameOf(bars, calendar, { rule, others, tape: tape.name, words, aliases: aliasesOf(tape) });
    const plans = planEntries(entries, namesOf(frame));
    const columns = evaluate(entries, frame, { progress: () => tools.course.goOn() });
    // of a fan every member, of a function of several values its first
    const values = [...plans]
      .sort((a, b) => a.entryIndex - b.entryIndex)
      .flatMap((plan) => {
        const column = columns.find(({ name }) => name === plan.name);
        return column ? [valueOf(plan, column, back)] : [];
      });
    const { time } = bars;
    const last = time.length > 0 ? rfc3339(time[time.length - 1]) : null;
    return { ...about, rule, bars: time.length, at: last, values };
  } catch (error) {
    return { ...about, refused: wrongWithOne(error) };
  }
}

function valueOf({ name, unit }: Plan, { values }: Column, back: number): RollRow['values'][number] {
  const last = values.length - 1;
  const shown = Math.min(values.length, SPARK_VALUES);
  const spark = Float64Array.from({ length: shown }, (_, at) =>
    shown === 1 ? values[0] : values[Math.round((at * last) / (shown - 1))],
  );
  return {
    name,
    unit,
    last: figure(values[last] ?? NaN),
    before: figure(values[last - back] ?? NaN),
    spark: figures(spark),
  };
}
