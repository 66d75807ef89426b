import { BAR_FIELDS, type Stretch } from '@jaunty-ledger/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Table } from '@jaunty-ledger/files/tables/table';
import { ComputeService } from './computeService';
import type { FromWorker } from './protocol';

/* Every answer belongs to its question, in whatever order the server answers. */

/** Three bars whose close tells which question they are the answer to. */
function barsWith(close: number): Table {
  const column = (value: number) => new Float64Array(3).fill(value);
  return [
    ...BAR_FIELDS.map((name): Table[number] => {
      if (name === 'time' || name === 'end')
        return {
          name,
          kind: 'instants',
          values: Float64Array.of(0, 60e6, 120e6).map((at) => at + (name === 'end' ? 60e6 : 0)),
        };
      return { name, kind: 'numbers', values: column(name === 'close' ? close : 1) };
    }),
    { name: 'complete', kind: 'marks', values: new Uint8Array(3).fill(1) },
  ];
}

/** A service whose server answers when it is told to. */
function service(sharesMemory = false) {
  const asked: { path: string; answer: (table: Table, version?: string) => void }[] = [];
  const said: FromWorker[] = [];
  const tableAt = (path: string) =>
    new Promise<{ table: Table; version: string | null }>((resolve) =>
      asked.push({ path, answer: (table, version = '1') => resolve({ table, version }) }),
    );
  const heard = new ComputeService(tableAt, (message) => said.push(message), sharesMemory);
  const open = (job: number, rule: string, count = 0, alone?: Stretch) =>
    heard.hear({
      kind: 'open',
      job,
      tape: 'KELP',
      rule,
      flagged: { shown: true, count },
      alone,
      calendar: { zone: 'UTC' },
      tapes: [{ name: 'KELP', kind: 'ticks', columns: [], numbers: [] }],
    });
  const glance = (job: number) =>
    heard.hear({ kind: 'glance', job, tape: 'KELP', rule: '1 minute', flagged: true, stretch: { from: 0, to: 60e6 } });
  const evaluate = (job: number, bars: number) =>
    heard.hear({
      kind: 'evaluate',
      job,
      bars,
      entries: [{ id: `x${job}`, text: 'x = close' }],
      stop: undefined,
      spare: [],
      looked: [],
    });
  // how far a job has come is told only where the machine is slow
  const answersTo = (job: number) => said.filter((message) => message.job === job && message.kind !== 'progress');
  const saidOf = (job: number) => answersTo(job).map(({ kind }) => kind);
  const closeOf = (job: number) => {
    const [answer] = answersTo(job);
    if (answer?.kind !== 'evaluated') return undefined;
    const [result] = answer.results;
    return result.state === 'drawn' ? result.columns[0].values[0] : undefined;
  };
  return { asked, open, glance, evaluate, said, saidOf, closeOf };
}

it('a question for bars that is answered late takes nobody’s place', async () => {
  const { asked, open, evaluate, saidOf, closeOf } = service();
  const first = open(1, '1 minute');
  const second = open(2, '1 hour');
  asked[1].answer(barsWith(2));
  await second;
  asked[0].answer(barsWith(1));
  await first;
  await evaluate(3, 2);
  expect([saidOf(1), saidOf(2), closeOf(3)]).toEqual([['stopped'], ['opened'], 2]);
});

it('a formula is evaluated on the bars that it was asked for, or not at all', () =>
  fc.assert(
    fc.asyncProperty(
      fc.shuffledSubarray([0, 1, 2, 3], { minLength: 4 }),
      fc.array(fc.nat({ max: 4 }), { minLength: 1, maxLength: 6 }),
      async (order, evaluations) => {
        const { asked, open, evaluate, saidOf, closeOf } = service();
        const opens = [1, 2, 3, 4].map((job) => open(job, `${job} minutes`));
        let job = 10;
        for (const answered of order) {
          asked[answered].answer(barsWith(answered + 1));
          await opens[answered];
          for (const bars of evaluations) {
            await evaluate(++job, bars);
            const value = closeOf(job);
            if (value === undefined) expect(saidOf(job)).toEqual(['stopped']);
            else expect(value).toBe(bars);
          }
        }
        expect(opens.length - saidOf(4).length).toBe(3);
        expect([saidOf(1), saidOf(2), saidOf(3), saidOf(4)]).toEqual([
          ['stopped'],
          ['stopped'],
          ['stopped'],
          ['opened'],
        ]);
      },
    ),
    { numRuns: 40 },
  ));

it('bars in view come ahead of all, and take no place of theirs', async () => {
  const { asked, open, glance, evaluate, said, saidOf, closeOf } = service();
  const all = open(1, '1 minute');
  const ahead = glance(2);
  expect(asked[1].path).toContain('from=1970-01-01T00%3A00%3A00Z&to=1970-01-01T00%3A01%3A00Z');
  asked[1].answer(barsWith(7));
  await ahead;
  expect(said).toMatchObject([{ kind: 'glanced', job: 2, bars: { close: Float64Array.of(7, 7, 7), before: 0 } }]);
  await evaluate(3, 2);
  expect(saidOf(3)).toEqual(['stopped']);
  asked[0].answer(barsWith(5));
  await all;
  await evaluate(4, 1);
  expect([saidOf(1), closeOf(4)]).toEqual([['opened'], 5]);
});

it('bars in shared memory are the same bars', async () => {
  const { asked, open, evaluate, said, closeOf } = service(true);
  const opened = open(1, '1 minute');
  const table = barsWith(5);
  asked[0].answer(table);
  await opened;
  const [answer] = said;
  if (answer.kind !== 'opened') throw new Error(answer.kind);
  expect(answer.bars.close).toEqual(Float64Array.of(5, 5, 5));
  expect(answer.bars.close.buffer).toBeInstanceOf(SharedArrayBuffer);
  await evaluate(2, 1);
  expect(closeOf(2)).toBe(5);
});

describe('bars and the flagged records among them', () => {
  const flagged: Table = [
    { name: 'time', kind: 'instants', values: Float64Array.of(61e6) },
    { name: 'price', kind: 'numbers', values: Float64Array.of(9) },
  ];

  it('are of one version of the tape: both are asked for again where they are not', async () => {
    const { asked, open, said } = service();
    const opened = open(1, '1 minute', 1);
    asked[0].answer(barsWith(1), '1');
    asked[1].answer(flagged, '2'); // a file was added in between
    await expect.poll(() => asked.length).toBe(4);
    asked[2].answer(barsWith(5), '2');
    asked[3].answer(flagged, '2');
    await opened;
    const [answer] = said;
    if (answer.kind !== 'opened') throw new Error(answer.kind);
    expect([answer.bars.close[0], [...answer.bars.flaggedRow], [...answer.bars.flaggedPrice]]).toEqual([5, [1], [9]]);
  });

  it('are those of the bars that are worked with alone', async () => {
    const { asked, open, said } = service();
    const opened = open(1, '1 minute', 3, { from: 60e6, to: 120e6 });
    asked[0].answer(barsWith(1));
    asked[1].answer([
      { name: 'time', kind: 'instants', values: Float64Array.of(1e6, 61e6, 121e6) },
      { name: 'price', kind: 'numbers', values: Float64Array.of(7, 8, 9) },
    ]);
    await opened;
    const [answer] = said;
    if (answer.kind !== 'opened') throw new Error(answer.kind);
    const { time, flaggedRow, flaggedPrice, before } = answer.bars;
    expect([[...time], [...flaggedRow], [...flaggedPrice], before]).toEqual([[60e6], [0], [8], 1]);
  });
});
