import { makeCalendar } from '@jaunty-ledger/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { CheckId, Treatments } from './checks.js';
import type { RecordColumns } from '../records/recordColumns.js';
import { Findings, LeftOutRoom } from './findings.js';
import { RecordChecks } from './recordChecks.js';

/* What is found must not hang on where a file happens to be cut into blocks. */

const at = (text: string) => Date.parse(text) * 1000;
const calendar = makeCalendar({
  zone: 'Atlantic/Faroe',
  session: '08:30-16:30',
  weekdays: ['Mon', 'Tue', 'Wed', 'Thu', 'Fri'],
  closed: ['2026-02-03'],
});
const NOW = at('2026-03-01T00:00:00Z');

type Trade = [time: number, price: number, size: number];

function columnsOf(trades: readonly Trade[], firstLine = 1): RecordColumns {
  const column = (index: number) => Float64Array.from(trades, (trade) => trade[index]);
  return {
    time: column(0),
    price: column(1),
    size: column(2),
    line: Float64Array.from(trades, (_, row) => firstLine + row),
    flags: new Float64Array(trades.length),
  };
}

/** Checks the trades in blocks of so many rows, each with the rows after it as neighbours; gives lines by check. */
function found(trades: readonly Trade[], blockRows = trades.length, treatments: Treatments = {}) {
  const findings = new Findings(treatments);
  const checks = new RecordChecks('ticks', calendar, findings, NOW);
  for (let from = 0; from < trades.length; from += blockRows) {
    const seen = trades.slice(from, from + blockRows + 5);
    checks.check(columnsOf(seen, from + 1), Math.min(blockRows, trades.length - from));
  }
  checks.finish();
  return Object.fromEntries(
    findings.list().map(({ id, count, examples }) => [id, { count, lines: examples.map(({ line }) => line) }]),
  );
}

const MINUTE = 60e6;
const open = at('2026-02-02T08:30:00Z');
/** A trade a second from the opening on, at a price that hardly moves. */
const calm = (count: number): Trade[] =>
  Array.from({ length: count }, (_, i) => [open + i * 1e6, 84 + (i % 3) / 100, 1 + (i % 7)]);

describe('records in order of time', () => {
  it('without a flaw give nothing to tell', () => expect(found(calm(500))).toEqual({}));

  it('that are the same as one of their instant are repeats; others of the instant are told apart', () => {
    const trades: Trade[] = [...calm(3), [open + 2e6, 84.02, 3], [open + 2e6, 84.02, 9]];
    expect(found(trades)).toEqual({ repeat: { count: 1, lines: [4] }, 'same-instant': { count: 1, lines: [5] } });
  });

  it('outside the session, on a closed date and in the future', () => {
    const trades: Trade[] = [
      [at('2026-02-02T08:29:59Z'), 84, 1],
      ...calm(3),
      [at('2026-02-02T16:30:00Z'), 84, 1],
      [at('2026-02-03T10:00:00Z'), 84, 1],
      [at('2026-02-07T10:00:00Z'), 84, 1],
      [at('2026-03-02T10:00:00Z'), 84, 1],
    ];
    expect(found(trades)).toEqual({
      outside: { count: 2, lines: [1, 5] },
      'closed-date': { count: 2, lines: [6, 7] },
      future: { count: 1, lines: [8] },
    });
  });

  it('with a gap that is long for its hour, but not the night', () => {
    const later = (trades: Trade[], by: number): Trade[] =>
      trades.map(([time, price, size]) => [time + by, price, size]);
    const gap = [...calm(600), ...later(calm(600), 30 * MINUTE)];
    expect(found(gap).gap).toEqual({ count: 1, lines: [601] });
    // hours before 1970 are hours too
    expect(found(later(gap, -3000 * 7 * 24 * 60 * MINUTE)).gap).toEqual({ count: 1, lines: [601] });
    expect(found([...calm(600), ...later(calm(600), 2 * 24 * 60 * MINUTE)])).toEqual({});
  });

  it.each([
    ['a price that comes back is a bad print', [84, 84.01, 84, 84.02, 98, 84, 84.01, 84], [5]],
    ['two of them apart are two', [84, 84.01, 98, 84.02, 84, 84.01, 84, 70, 84.01, 84, 84], [3, 8]],
    ['one that stays is a move', [84, 84.01, 84, 84.02, 98, 98.01, 98, 98.02], []],
    ['a small jump is none', [84, 84.01, 84, 84.02, 84.2, 84, 84.01, 84], []],
    ['what has no two neighbours on a side cannot be told', [98, 84, 84.01, 84, 84], []],
  ])('%s', (_, prices, lines) => {
    const trades = prices.map((price, i): Trade => [open + i * 1e6, price, 1]);
    expect(found(trades)['bad-print']?.lines ?? []).toEqual(lines);
  });

  it('are found the same, however the file is cut into blocks', () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(
            fc.constantFrom(0, 0, 1e6, 1e6, 2e6, 40 * MINUTE, 9 * 60 * MINUTE),
            fc.constantFrom(84, 84, 84.01, 84.02, 98),
            fc.constantFrom(1, 2),
          ),
          { minLength: 1, maxLength: 60 },
        ),
        fc.integer({ min: 6, max: 30 }),
        (steps, blockRows) => {
          let time = open;
          const trades = steps.map(([step, price, size]): Trade => [(time += step), price, size]);
          expect(found(trades, blockRows)).toEqual(found(trades));
        },
      ),
      // bad prints at the end of one block and the beginning of the next
      { examples: [[[84, 84, 98, 98, 98, 84, 84, 98, 98].map((price) => [0, price, 1]), 6]] },
    ));

  it('are left out where that is asked for, with their line', () => {
    const findings = new Findings({ repeat: 'leave-out' });
    const trades: Trade[] = [...calm(3), [open + 2e6, 84.02, 3]];
    const leftOut = new RecordChecks('ticks', calendar, findings, NOW).check(columnsOf(trades), trades.length);
    expect([...leftOut!]).toEqual([0, 0, 0, 1]);
    expect(findings.leftOut).toEqual([{ line: 4, reason: 'as line 3 or one before it', text: '' }]);
  });
});

describe('findings', () => {
  it('of one file keep so many left-out lines together, and count all of them', () => {
    const file = new Findings({});
    const tape = file.anew();
    const leaveOut = (findings: Findings, count: number) => {
      for (let line = 1; line <= count; line++) findings.leaveOut(line, 'no price');
      return [findings.leftOut.length, findings.leftOutCount];
    };
    expect(leaveOut(file, 70_000)).toEqual([70_000, 70_000]);
    expect(leaveOut(tape, 70_000)).toEqual([30_000, 70_000]);
    const again = tape.begunAnew(); // as where the records had to be sorted
    expect(leaveOut(again, 20_000)).toEqual([20_000, 20_000]);
    const both = again.with(file, new LeftOutRoom(2));
    expect([both.leftOut.length, both.leftOutCount]).toEqual([50_000, 90_000]);
  });

  it('count all and tell the first of each as examples', () => {
    const findings = new Findings({});
    for (let line = 1; line <= 100; line++) findings.note('repeat', line, () => `line ${line}`);
    const [{ count, examples, treatment }] = findings.list();
    expect({ count, told: examples.length, treatment }).toEqual({ count: 100, told: 20, treatment: 'flag' });
  });

  it('go by what is chosen, else by what is usual', () => {
    const findings = new Findings({ repeat: 'keep' });
    const ids: CheckId[] = ['repeat', 'not-positive', 'same-instant'];
    expect(ids.map((id) => findings.treatmentOf(id))).toEqual(['keep', 'leave-out', 'keep']);
  });
});
