import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { hurstOfPoints, hurstPoints } from '../core/dist/memory/hurst.js';
import { fractionalNoise } from '../demo/dist/fractionalNoise.js';
import { Random } from '../demo/dist/random.js';
import { root } from './prepare.mjs';

/*
 * Makes the table of how far Hurst exponents spread: the standard deviation of the estimate over seeded paths of exact
 * fractional Gaussian noise, by method, window and exponent. Run once: `node scripts/hurstSpread.mjs` takes some minutes.
 */

const PATHS = 1000;
const METHODS = ['rs', 'dfa', 'variance'];
const WINDOWS = [64, 128, 256, 512, 1024, 2048, 4096, 8192];
const EXPONENTS = [0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9];

const spreads = Object.fromEntries(METHODS.map((by) => [by, WINDOWS.map(() => [])]));
WINDOWS.forEach((window, row) => {
  for (const [column, h] of EXPONENTS.entries()) {
    const found = Object.fromEntries(METHODS.map((by) => [by, []]));
    for (let path = 0; path < PATHS; path++) {
      const noise = fractionalNoise(window, h, new Random(1e6 * row + 1e4 * column + path));
      for (const by of METHODS) found[by].push(hurstOfPoints(hurstPoints(noise, by), by, window).h);
    }
    for (const by of METHODS) spreads[by][row].push(Number(deviation(found[by]).toFixed(4)));
  }
  console.log(`${window} returns: ${METHODS.map((by) => `${by} ${spreads[by][row].join(' ')}`).join('; ')}`);
});

function deviation(values) {
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  return Math.sqrt(values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / (values.length - 1));
}

const lines = METHODS.map(
  (by) => `  ${by}: [\n${spreads[by].map((row) => `    [${row.join(', ')}],\n`).join('')}  ],\n`,
);
writeFileSync(
  join(root, 'core/src/memory/hurstSpreads.ts'),
  `/* Made by scripts/hurstSpread.mjs: standard deviations of the estimate over ${PATHS} paths of exact fractional Gaussian noise. */

/** Windows of the rows, in returns. */
export const SPREAD_WINDOWS = [${WINDOWS.join(', ')}] as const;
/** Exponents of the columns. */
export const SPREAD_EXPONENTS = [${EXPONENTS.join(', ')}] as const;

export const SPREADS: Record<'rs' | 'dfa' | 'variance', readonly (readonly number[])[]> = {
${lines.join('')}};
`,
);
