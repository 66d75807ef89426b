import { expect, it } from 'vitest';
import { missingReason } from './missingReason';

const RAIN = { kind: 'series', columns: ['time', 'price'], valueName: 'rainfall_mm' } as const;
const KELP = { kind: 'ticks', columns: ['time', 'price', 'size'], valueName: null } as const;

it.each([
  ['mean(turnover, 5 bars)', RAIN, 100, /no sizes, so turnover is missing\. Use rainfall_mm/],
  ['mean(volume, 5 bars)', KELP, 100, /has all the values it needs/],
  ['mean(close, 500 bars)', KELP, 100, /window of 500 bars is longer than the 100 bars/],
  ['log(close - 1e9)', KELP, 100, /has all the values it needs/],
] as const)('%s says why it is missing in every row', (formula, tape, bars, says) =>
  expect(missingReason(formula, { ...tape, columns: [...tape.columns] }, bars)).toMatch(says),
);
