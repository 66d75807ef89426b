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
    expect(() => work.wait()).toThrow('the other thread failed');
  });
});
