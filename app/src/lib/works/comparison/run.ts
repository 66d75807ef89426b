import {
  ArgumentError,
  comparePair,
  groupAverage,
  joinColumns,
  orderedMatrix,
  parseBarRule,
  printBarRule,
  rfc3339,
  type TimedColumn,
} from '@jaunty-ledger/core';
import { memberText, toldMatrix, type ComparisonBody, type Member, type PairBody, type ToldComparison } from './work';
import { fittingRule } from '$lib/api/fittingRule';
import { refuse } from '$lib/api/problems';
import type { StoredTape } from '$lib/server/store/tapeRows';
import { refuseCells } from '$lib/server/tasks/refuseCells';
import { figure, figures } from '../figures';
import { wrongWithOne } from '$lib/server/tasks/ofOneTape';
import { oneColumn } from '$lib/server/tasks/oneColumn';
import type { Range } from '$lib/server/tasks/range';
import type { TaskKind, Tools } from '$lib/server/tasks/taskKind';

interface ComparisonInput extends Omit<ComparisonBody, 'stretch' | 'flagged' | 'bars'> {
  /** The tapes of the members that there are. */
  tapes: StoredTape[];
  rule: string;
  flagged: boolean;
  stretch: Range | undefined;
}

const MOST_ROWS = 1_000_000;
type ToldMember = ToldComparison['members'][number];

/** Several columns on common rows, as JSON. */
export const comparison: TaskKind<ComparisonInput> = {
  records: ({ tapes, members }) => tapes.reduce((sum, { rows }) => sum + rows, 0) + members.length ** 2 * 100,
  answerKey: ({ tapes, ...rest }) => JSON.stringify([tapes.map(({ id, version }) => [id, version]), rest]),
  run: async (input, tools) => {
    const found: { member: ToldMember; column: TimedColumn | undefined }[] = [];
    let rowsHeld = 0;
    for (const [at, member] of input.members.entries()) {
      tools.course.goOn((0.8 * at) / input.members.length);
      found.push(await memberOf(member, input, tools));
      rowsHeld += found[at].column?.values.length ?? 0;
      refuseCells(2 * rowsHeld, tools.limits); // before they fill the memory
    }
    const there = found.flatMap(({ column }, at) => (column ? [{ at, column }] : []));
    const { rows, members } = input;
    const choices = { rows: rows === 'common' ? rows : ('all' as const), carry: rows === 'carried' };
    const joined = joinColumns(
      there.map(({ column }) => column),
      choices,
    );
    if (input.columns) refuseCells(joined.time.length * (there.length + 2), tools.limits);
    const columns = found.map((): Float64Array | undefined => undefined);
    there.forEach(({ at }, place) => {
      columns[at] = joined.columns[place];
      found[at].member.carried = joined.carried[place];
    });
    const names = members.map(memberText);
    const goOn = (share: number) => tools.course.goOn(0.8 + 0.2 * share);
    const answer: ToldComparison = {
      rule: printBarRule(parseBarRule(input.rule)),
      says: saidOf(input, found, joined.time.length),
      count: joined.time.length,
      members: found.map(({ member }, at) => ({
        ...member,
        ...(input.columns && columns[at] && { values: figures(columns[at]) }),
      })),
      ...(input.matrix && { matrix: toldMatrix(orderedMatrix(columns, { ...input, names }, goOn)) }),
      ...(input.columns && {
        time: Array.from(joined.time, rfc3339),
        average: joined.columns.length > 0 ? figures(groupAverage(joined.columns, input.average)) : [],
      }),
      ...(input.pair && { pair: pairOf(input.pair, columns, joined.time, input) }),
    };
    return new TextEncoder().encode(JSON.stringify(answer));
  },
};

/** A member's column; why there is none where there is none, so that the rest stands. */
async function memberOf({ tape: name, entry }: Member, input: ComparisonInput, tools: Tools) {
  const member: ToldMember = { tape: name, entry, phrase: entry, own: 0, carried: 0 };
  const tape = input.tapes.find((one) => one.name === name);
  try {
    if (!tape) throw refuse('unknown-tape', `No tape is called ${name}.`);
    const { flagged, stretch } = input;
    const rule = fittingRule(input.rule, tape);
    const asked = { tape, rule, flagged, entry, entries: [], stretch };
    const { frame, phrase, values } = await oneColumn(asked, MOST_ROWS, tools);
    const own = values.reduce((sum, value) => sum + Number(Number.isFinite(value)), 0);
    return { member: { ...member, phrase, own }, column: { time: frame.time, values } };
  } catch (error) {
    return { member: { ...member, refused: wrongWithOne(error) }, column: undefined };
  }
}

function saidOf(
  { tapes, rule }: ComparisonInput,
  found: readonly { member: ToldMember; column: TimedColumn | undefined }[],
  count: number,
): string[] {
  const says: string[] = [];
  const there = found.filter(({ column }) => column);
  const used = tapes.filter(({ name }) => there.some(({ member }) => member.tape === name));
  const zones = new Set(used.map(({ zone }) => zone));
  if (zones.size > 1) says.push(`Bars of ${zones.size} zones are joined on the instants that they start at.`);
  const fitted = used.filter((tape) => fittingRule(rule, tape) !== printBarRule(parseBarRule(rule)));
  if (fitted.length > 0)
    says.push(`${fitted.map(({ name }) => name).join(', ')} cannot have all that the rule asks, and has the rest.`);
  if (there.length > 1 && count === 0)
    says.push('No row is common to all. Choose longer bars, all rows, or members of the same hours.');
  return says;
}

function pairOf(
  choices: PairBody,
  columns: readonly (Float64Array | undefined)[],
  time: Float64Array,
  { members, columns: givesSeries }: ComparisonInput,
): ToldComparison['pair'] {
  const { a, b } = choices;
  const [first, second] = [columns[a], columns[b]];
  if (a === b || !first || !second) {
    const known = members.length === 1 ? 'is one' : `are ${members.length}`;
    throw refuse('invalid-body', `A pair is two different members that can be compared; there ${known}.`);
  }
  const isLow = choices.partedBy === 'correlation';
  const { begin = isLow ? 0 : 2, end = 0.5 } = choices;
  try {
    const found = comparePair(first, second, { ...choices, begin, end });
    const { correlation, spread, stretches, cointegration: test } = found;
    const series = (column: Float64Array) => (givesSeries ? figures(column) : []);
    return {
      ...{ a, b, correlation: series(correlation.values), usual: figure(correlation.usual) },
      spread: series(spread.values),
      beta: typeof spread.beta === 'number' ? figure(spread.beta) : series(spread.beta),
      z: series(found.z),
      stretches: stretches.map((one) => ({
        start: rfc3339(time[one.start]),
        end: one.end === undefined ? null : rfc3339(time[one.end]),
        ...{ rows: one.rows, side: one.side, farthest: figure(isLow ? -one.peak : one.peak) },
        ...{ after: figure(one.after), movedA: figure(one.movedA), movedB: figure(one.movedB), led: one.led },
        ...{ cameBack: one.cameBack ?? null, backAfter: one.backAfter ?? null },
      })),
      halfLife: figure(spread.halfLife.rows),
      cointegration: {
        ...{ beta: figure(test.beta), constant: figure(test.constant), tau: figure(test.tau), p: figure(test.p) },
        ...{ lags: figure(test.lags), rows: figure(test.rows) },
        critical: {
          one: figure(test.critical.one),
          five: figure(test.critical.five),
          ten: figure(test.critical.ten),
        },
      },
      common: found.leads.count,
      leads: figures(found.leads.values),
    };
  } catch (error) {
    if (!(error instanceof ArgumentError)) throw error;
    throw refuse('invalid-body', `pair: ${error.message}.`, {}, { cause: error });
  }
}
