import fc from 'fast-check';
import { tableFromIPC } from 'apache-arrow';
import { describe, expect, it } from 'vitest';
import { fromArrow, toArrow, type Table } from './table.js';

/* Tables on their way between server and page. */

/** Microseconds since the epoch: any that doubles hold whole, before 1970 as well. */
const instant = fc.integer({ min: Number.MIN_SAFE_INTEGER, max: Number.MAX_SAFE_INTEGER });

describe('a table as Arrow', () => {
  it('comes back the same, bit for bit', () =>
    fc.assert(
      fc.property(fc.array(fc.tuple(instant, fc.double(), fc.nat({ max: 255 }))), (rows) => {
        const table: Table = [
          { name: 'time', kind: 'instants', values: Float64Array.from(rows, ([time]) => time) },
          { name: '__proto__', kind: 'numbers', values: Float64Array.from(rows, ([, close]) => close) },
          { name: 'complete', kind: 'marks', values: Uint8Array.from(rows, ([, , complete]) => complete) },
        ];
        expect(fromArrow(toArrow(table))).toEqual(table);
      }),
    ));

  it('has instants that any reader of Arrow takes for what they are', () =>
    fc.assert(
      fc.property(fc.array(instant, { minLength: 1 }), (times) => {
        const table = tableFromIPC(toArrow([{ name: 'time', kind: 'instants', values: Float64Array.from(times) }]));
        expect([...(table.getChild('time')!.data[0].values as BigInt64Array)]).toEqual(times.map(BigInt));
      }),
    ));
});
