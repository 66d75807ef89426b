import fc from 'fast-check';
import { expect, it } from 'vitest';
import { SortOrder } from './sortOrder.js';

it('the order of values is rising, and equal ones stay as they came, however they lie', () => {
  const value = fc.oneof(
    fc.integer({ min: -5, max: 5 }),
    fc.double({ noNaN: true, noDefaultInfinity: true }),
    fc.double({ min: 0, max: 1, noNaN: true }),
    fc.constantFrom(-0, 1e300, -1e300, 5e-324),
  );
  // one sorter for all: what one sort leaves behind is nothing to the next
  const sorter = new SortOrder(400);
  fc.assert(
    fc.property(
      fc.oneof(
        fc.array(value, { maxLength: 400 }),
        fc.array(fc.integer({ min: 0, max: 30 }), { minLength: 100, maxLength: 400 }),
      ),
      (list) => {
        sorter.sort(Float64Array.from(list), list.length);
        const wanted = list.map((_, index) => index).sort((a, b) => list[a] - list[b] || a - b);
        expect([...sorter.order.subarray(0, list.length)]).toEqual(wanted);
      },
    ),
    { numRuns: 300 },
  );
});
