import { rollingHurst, type Hurst, type HurstMethod, type RowsOrder } from '@jaunty-ledger/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { askingThread, workOut, type SharedOrder } from './otherThread';

/** Hurst exponents from a row on, as they are asked of another thread. */
const hurstOrder = (x: Float64Array, by: HurstMethod, first: number): RowsOrder => ({
  name: 'hurst',
  columns: [x],
  settings: {
    window: { kind: 'bars', bars: 64, placed: 'behind', skip: 0 },
    numbers: {},
    words: { by },
    stretches: {},
  },
  first,
});
const partsOf = ({ hurst, error, rsquared, spread }: Hurst) => [hurst, error, rsquared, spread];

describe('the later rows on another thread', () => {
  it('are the same, bit for bit, as on one', () =>
    fc.assert(
      fc.property(
        fc.array(fc.oneof({ weight: 30, arbitrary: fc.double({ min: -1, max: 1, noNaN: true }) }, fc.constant(NaN)), {
          minLength: 200,
          maxLength: 400,
        }),
        fc.constantFrom<HurstMethod>('rs', 'dfa', 'variance'),
        (values, by) => {
          const x = Float64Array.from(values);
          const whole = partsOf(rollingHurst(x, 64, by));
          const asked = askingThread(workOut)
            .begin(hurstOrder(x, by, 0), 4)
            .wait();
          expect(asked).toEqual(whole);
        },
      ),
      { numRuns: 20 },
    ));

  it('begin where they are told to, and look back beyond that', () => {
    const x = Float64Array.from({ length: 300 }, (_, i) => Math.sin(i * i));
    const [later] = askingThread(workOut)
      .begin(hurstOrder(x, 'dfa', 200), 4)
      .wait();
    expect(later.subarray(0, 200).every(Number.isNaN)).toBe(true);
    expect(later.every((value, row) => row < 200 || Number.isFinite(value))).toBe(true);
  });

  it('that nobody waits for any more are given up', () => {
    const orders: SharedOrder[] = [];
    const work = askingThread((order) => orders.push(order)).begin(
      hurstOrder(new Float64Array(10_000).fill(1), 'rs', 0),
      3,
    );
    work.giveUp();
    workOut(orders[0]);
    const [mark] = new Int32Array(orders[0].out, 0, 2);
    const results = new Float64Array(orders[0].out, 8);
    expect({ mark, isEmpty: results.every((value) => value === 0) }).toEqual({ mark: 2, isEmpty: true });
  });

  it('are worked out here where the other thread does not answer, or fails', () => {
    const x = Float64Array.from({ length: 300 }, (_, i) => Math.sin(i * i));
    const wanted = partsOf(rollingHurst(x, 64, 'dfa', undefined, 100));
    expect(
      askingThread(() => undefined, 20)
        .begin(hurstOrder(x, 'dfa', 100), 4)
        .wait(),
    ).toEqual(wanted);
    const failing = askingThread((order) => {
      expect(() => workOut({ ...order, settings: { ...order.settings, window: undefined } })).toThrow('bars must be');
    });
    expect(failing.begin(hurstOrder(x, 'dfa', 100), 4).wait()).toEqual(wanted);
  });
});
