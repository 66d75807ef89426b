import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { decodeColumn, encodeColumn } from './columnCodec';
import { DamagedChunkError, decodeChunk, encodeChunk } from './tapeChunk';

const anyDouble = fc.double(); // NaN, infinities, -0 and subnormals among them
const decimal = fc
  .tuple(fc.integer({ min: -1e9, max: 1e9 }), fc.integer({ min: 0, max: 6 }))
  .map(([whole, places]) => whole / 10 ** places);
const instant = fc.integer({ min: 0, max: 4e15 });
const millisecond = fc.integer({ min: 0, max: 4e12 }).map((ms) => ms * 1000);
const column = fc
  .oneof(
    ...[anyDouble, decimal, instant, millisecond, fc.constant(7), fc.constantFrom(-1, -0, 0, 1)].map((value) =>
      fc.array(value, { minLength: 1, maxLength: 200 }),
    ),
  )
  .map((values) => Float64Array.from(values));

describe('a stored column', () => {
  it('comes back bit for bit', () =>
    fc.assert(
      fc.property(column, (values) => {
        const back = decodeColumn(encodeColumn(values).bytes, values.length);
        back.forEach((value, row) => expect(value).toBe(values[row]));
      }),
      { numRuns: 500 },
    ));

  it('comes back over whatever stood in the memory that it goes to, stretches without a change among it', () => {
    const stretch = fc.record({
      rows: fc.integer({ min: 1, max: 1500 }),
      value: fc.integer({ min: 0, max: 2 ** 40 }),
      spread: fc.constantFrom(0, 0, 1, 300, 70_000, 2 ** 34),
      scale: fc.constantFrom(1, 100),
    });
    fc.assert(
      fc.property(fc.array(stretch, { minLength: 1, maxLength: 5 }), (stretches) => {
        const values = Float64Array.from(
          stretches.flatMap(({ rows, value, spread, scale }) =>
            Array.from({ length: rows }, (_, row) => (value + ((row * 7919) % (spread + 1))) / scale),
          ),
        );
        const used = new Float64Array(values.length).fill(NaN);
        expect(decodeColumn(encodeColumn(values).bytes, values.length, used)).toEqual(values);
      }),
    );
  });

  it('takes few bytes for times and prices that go in small steps', () => {
    const times = Float64Array.from({ length: 10_000 }, (_, row) => 1.7e15 + row * 1_234_000);
    const prices = Float64Array.from({ length: 10_000 }, (_, row) => Math.round(8000 + 50 * Math.sin(row)) / 100);
    expect(encodeColumn(times).bytes.length + encodeColumn(prices).bytes.length).toBeLessThan(4 * 10_000);
  });
});

describe('a stored chunk', () => {
  const columns = {
    time: Float64Array.of(1e15, 2e15),
    price: Float64Array.of(84.2, 84.1),
    size: Float64Array.of(3, NaN),
  };

  it('comes back with its columns, its span and its extent', () => {
    const chunk = encodeChunk(columns, 'price');
    expect(decodeChunk(chunk)).toEqual(columns);
    expect(chunk).toMatchObject({ rows: 2, firstAt: 1e15, lastAt: 2e15, least: 84.1, greatest: 84.2 });
  });

  it('is refused where a single bit of it has changed', () =>
    fc.assert(
      fc.property(fc.nat(), fc.integer({ min: 0, max: 7 }), (at, bit) => {
        const chunk = encodeChunk(columns, 'price');
        chunk.data[at % chunk.data.length] ^= 1 << bit;
        expect(() => decodeChunk(chunk)).toThrow(DamagedChunkError);
      }),
    ));
});
