import { rollingHurst, type HurstMethod } from '@jaunty-ledger/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { askingThread, workOut, type HalfOrder } from './otherThread';

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
          const whole = rollingHurst(x, 64, by);
          const asked = askingThread(workOut).hurst(x, 64, by, 0).wait();
          expect(asked).toEqual(whole);
        },
      ),
      { numRuns: 20 },
    ));

  it('begin where they are told to, and look back beyond that', () => {
    const x = Float64Array.from({ length: 300 }, (_, i) => Math.sin(i * i));
    const later = askingThread(workOut).hurst(x, 64, 'dfa', 200).wait();
    expect(later.hurst.subarray(0, 200).every(Number.isNaN)).toBe(true);
    expect(later.hurst.every((value, row) => row < 200 || Number.isFinite(value))).toBe(true);
  });

  it('that nobody waits for any more are given up', () => {
    const orders: HalfOrder[] = [];
    const work = askingThread((order) => orders.push(order)).hurst(new Float64Array(10_000).fill(1), 64, 'rs', 0);
    work.giveUp();
    workOut(orders[0]);
    const [mark] = new Int32Array(orders[0].out, 0, 2);
    const results = new Float64Array(orders[0].out, 8);
    expect({ mark, isEmpty: results.every((value) => value === 0) }).toEqual({ mark: 2, isEmpty: true });
  });

  it('are worked out here where the other thread does not answer, or fails', () => {
    const x = Float64Array.from({ length: 300 }, (_, i) => Math.sin(i * i));
    const wanted = rollingHurst(x, 64, 'dfa', undefined, 100);
    expect(
      askingThread(() => undefined, 20)
        .hurst(x, 64, 'dfa', 100)
        .wait(),
    ).toEqual(wanted);
    const failing = askingThread((order) => {
      expect(() => workOut({ ...order, bars: 1 })).toThrow('bars must be');
    });
    expect(failing.hurst(x, 64, 'dfa', 100).wait()).toEqual(wanted);
  });
});
