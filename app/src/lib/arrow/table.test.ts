import fc from 'fast-check';
import { tableFromIPC } from 'apache-arrow';
import { describe, expect, it } from 'vitest';
import { fromArrow, toArrow } from './table';

/* Tables on their way between server and page. */

/** Microseconds since the epoch: any that doubles hold whole, before 1970 as well. */
const instant = fc.integer({ min: Number.MIN_SAFE_INTEGER, max: Number.MAX_SAFE_INTEGER });

describe('a table as Arrow', () => {
  it('comes back the same, bit for bit', () =>
    fc.assert(
      fc.property(fc.array(fc.tuple(instant, fc.double(), fc.nat({ max: 255 }))), (rows) => {
        const columns = {
          time: Float64Array.from(rows, ([time]) => time),
          close: Float64Array.from(rows, ([, close]) => close),
          complete: Uint8Array.from(rows, ([, , complete]) => complete),
        };
        const again = fromArrow(toArrow({ columns, instants: ['time'] }));
        for (const [name, column] of Object.entries(columns)) {
          expect(again.columns[name].constructor).toBe(column.constructor);
          expect([...again.columns[name]]).toEqual([...column]);
        }
        expect(again.instants).toEqual(['time']);
      }),
    ));

  it('has instants that any reader of Arrow takes for what they are', () =>
    fc.assert(
      fc.property(fc.array(instant, { minLength: 1 }), (times) => {
        const table = tableFromIPC(toArrow({ columns: { time: Float64Array.from(times) }, instants: ['time'] }));
        expect([...(table.getChild('time')!.data[0].values as BigInt64Array)]).toEqual(times.map(BigInt));
      }),
    ));
});
