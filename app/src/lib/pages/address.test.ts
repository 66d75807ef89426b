import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { pageAddress } from './address';

const Body = z.strictObject({
  page: z.literal('orders'),
  tape: z.string().min(1),
  lags: z.number().int().min(1).default(40),
  level: z.number().nullable().default(null),
  falling: z.boolean().default(false),
  steps: z.array(z.number()).max(3).default([1, 5]),
  points: z.array(z.object({ x: z.number(), y: z.number() })).default([]),
});
const ADDRESS = pageAddress(
  '/orders',
  Body,
  { page: 'orders', tape: 'A' },
  {
    names: { steps: 'step', points: 'point' },
    items: {
      points: {
        read: (text) =>
          /^-?\d+,-?\d+$/.test(text) ? { x: Number(text.split(',')[0]), y: Number(text.split(',')[1]) } : undefined,
        write: ({ x, y }: { x: number; y: number }) => `${x},${y}`,
      },
    },
  },
);
const read = (search: string) => ADDRESS.read(new URLSearchParams(search), { tape: 'KELP' });

describe('the address of a page', () => {
  it('leaves out what is usual, and what is required never', () => {
    expect(ADDRESS.write(read(''))).toBe('/orders?tape=KELP');
    expect(ADDRESS.write(read('lags=40&step=1&step=5'), 7)).toBe('/orders?tape=KELP&kept=7');
  });

  it.each([
    ['lags=7', { lags: 7 }],
    ['level=-2.5', { level: -2.5 }],
    ['falling=true', { falling: true }],
    ['step=9', { steps: [9] }],
    [
      'point=1,2&point=3,-4',
      {
        points: [
          { x: 1, y: 2 },
          { x: 3, y: -4 },
        ],
      },
    ],
  ])('with %s is read and written back', (search, found) => {
    const body = read(search);
    expect(body).toMatchObject({ tape: 'KELP', ...found });
    expect(read(ADDRESS.write(body).split('?')[1])).toEqual(body);
  });

  it.each([
    'lags=0',
    'lags=many',
    'lags=1e99',
    'step=1&step=2&step=3&step=4',
    'tape=',
    'unknown=1',
    '__proto__=x',
    'constructor=x',
    'page=other',
  ])('that says %s is as usual', (search) => expect(read(search)).toEqual(read('')));

  it('passes over items that it cannot read', () =>
    expect(read('point=1,2&point=moon').points).toEqual([{ x: 1, y: 2 }]));
});
