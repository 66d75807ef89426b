import fc from 'fast-check';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { RowWindow } from './rowWindow.svelte';

// nobody looks on here, so that state is plain values
beforeEach(() => void vi.stubGlobal('$state', <T>(value: T) => value));
afterEach(() => void vi.unstubAllGlobals());

it('draws all rows in sight, no more than its size, and spacers for the rest', () =>
  fc.assert(
    fc.property(
      fc.record({
        count: fc.nat(1_000_000),
        rowPx: fc.integer({ min: 10, max: 60 }),
        around: fc.nat(10),
        heightPx: fc.nat(3000),
        topPx: fc.integer({ min: -500, max: 90_000_000 }),
      }),
      ({ count, rowPx, around, heightPx, topPx }) => {
        const rows = new RowWindow(() => count, rowPx, around, heightPx);
        rows.topPx = topPx;
        const { first, end, size, abovePx, belowPx } = rows;
        expect(first).toBeGreaterThanOrEqual(0);
        expect(end).toBeLessThanOrEqual(count);
        expect(end - first).toBeLessThanOrEqual(size);
        expect(abovePx + (end - first) * rowPx + belowPx).toBe(count * rowPx);
        const seen = (row: number) => row * rowPx < topPx + heightPx && (row + 1) * rowPx > topPx;
        for (const row of [first - 1, end]) if (row >= 0 && row < count) expect(around > 0 && seen(row)).toBe(false);
      },
    ),
    { seed: 20261202 },
  ));
