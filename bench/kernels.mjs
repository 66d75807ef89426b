import { evaluate } from '../core/dist/index.js';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { root } from '../scripts/prepare.mjs';
import { bestOf, perSecond, standardRandom, times } from './timing.mjs';

const ROWS = 10_000_000;
const WINDOW = 50;

/** Straight loops in JavaScript, as one would write them without a thought for what sums lose. */
const PLAIN = {
  mean(x) {
    const out = new Float64Array(x.length);
    let sum = 0;
    for (let t = 0; t < x.length; t++) {
      sum += x[t];
      if (t >= WINDOW) sum -= x[t - WINDOW];
      out[t] = t >= WINDOW - 1 ? sum / WINDOW : NaN;
    }
    return out;
  },
  stdev(x) {
    const out = new Float64Array(x.length);
    let sum = 0;
    let squares = 0;
    for (let t = 0; t < x.length; t++) {
      sum += x[t];
      squares += x[t] * x[t];
      if (t >= WINDOW) {
        sum -= x[t - WINDOW];
        squares -= x[t - WINDOW] * x[t - WINDOW];
      }
      out[t] = t >= WINDOW - 1 ? Math.sqrt((squares - (sum * sum) / WINDOW) / (WINDOW - 1)) : NaN;
    }
    return out;
  },
  ema(x) {
    const out = new Float64Array(x.length);
    const a = 2 / (WINDOW + 1);
    let y = x[0];
    for (let t = 0; t < x.length; t++) out[t] = y += a * (x[t] - y);
    return out;
  },
  lag(x) {
    const out = new Float64Array(x.length);
    for (let t = 1; t < x.length; t++) out[t] = x[t - 1];
    return out;
  },
  slope(x) {
    const out = new Float64Array(x.length);
    const squares = (WINDOW * (WINDOW * WINDOW - 1)) / 12;
    let sum = 0;
    let weighted = 0; // newer values weigh more: 0 for the oldest of the window
    for (let t = 0; t < x.length; t++) {
      if (t >= WINDOW) {
        weighted -= sum - x[t - WINDOW];
        sum -= x[t - WINDOW];
        weighted += (WINDOW - 1) * x[t];
      } else weighted += t * x[t];
      sum += x[t];
      out[t] = t >= WINDOW - 1 ? (weighted - ((WINDOW - 1) / 2) * sum) / squares : NaN;
    }
    return out;
  },
  max(x) {
    const out = new Float64Array(x.length);
    const queue = new Int32Array(x.length);
    let head = 0;
    let tail = 0;
    for (let t = 0; t < x.length; t++) {
      while (tail > head && x[queue[tail - 1]] <= x[t]) tail--;
      queue[tail++] = t;
      if (queue[head] <= t - WINDOW) head++;
      out[t] = t >= WINDOW - 1 ? x[queue[head]] : NaN;
    }
    return out;
  },
  return(x) {
    const out = new Float64Array(x.length);
    for (let t = 1; t < x.length; t++) out[t] = x[t] / x[t - 1] - 1;
    return out;
  },
};

PLAIN.sum = PLAIN.mean;
PLAIN.min = PLAIN.max;

const FORMULAS = {
  mean: `mean(x, ${WINDOW} bars)`,
  sum: `sum(x, ${WINDOW} bars)`,
  slope: `slope(x, ${WINDOW} bars)`,
  min: `min(x, ${WINDOW} bars)`,
  max: `max(x, ${WINDOW} bars)`,
  stdev: `stdev(x, ${WINDOW} bars)`,
  ema: `ema(x, ${WINDOW} bars)`,
  lag: 'lag(x)',
  return: 'return(x)',
};

/** The same functions over windows of very different lengths: what a row costs should not hang on them. */
export function lengthRows() {
  const random = standardRandom();
  const x = Float64Array.from({ length: ROWS }, () => 100 + random.next().value);
  const time = Float64Array.from({ length: ROWS }, (_, row) => row * 60e6);
  const lengths = [50, 1000, 5000, 100_000];
  return ['mean', 'sum', 'slope', 'min', 'max', 'stdev', 'ema'].map((name) => {
    const taken = lengths.map((bars) =>
      bestOf(3, () => evaluate([`${name}(x, ${bars} bars)`], { time, columns: { x } })).toFixed(0),
    );
    return [`\`${name}\` at ${lengths.join(', ')} bars`, `${taken.join(', ')} ms`, '10 million rows'];
  });
}

/** Slower functions, over a million rows or two. */
const LONGER = [
  ['median(x, 500 bars)', 2_000_000],
  ['quantile(x, 500 bars, p: 0.9)', 2_000_000],
  ['correlation(x, y, 50 bars)', 2_000_000],
  ['hurst(x, 256 bars, by: variance)', 1_000_000],
  ['hurst(x, 256 bars, by: dfa)', 1_000_000],
  ['hurst(x, 256 bars, by: rs)', 1_000_000],
];

export function longerRows() {
  const random = standardRandom();
  const next = () => random.next().value;
  return LONGER.map(([formula, rows]) => {
    const [x, y] = [0, 0].map(() => Float64Array.from({ length: rows }, () => next() - 0.5));
    const time = Float64Array.from({ length: rows }, (_, row) => row * 60e6);
    const taken = bestOf(1, () => evaluate([formula], { time, columns: { x, y } }));
    return [
      `\`${formula}\``,
      `${(taken / 1000).toFixed(2)} s`,
      `${rows / 1e6} million rows, ${perSecond(rows, taken)}`,
    ];
  });
}

/** Builds the same loops in plain C; gives what runs them, or nothing where there is no compiler. */
function plainC(folder) {
  try {
    const program = join(folder, 'plain');
    execFileSync('cc', ['-O3', '-o', program, join(root, 'bench', 'plain.c'), '-lm'], { stdio: 'ignore' });
    return () => execFileSync(program, { encoding: 'utf8' }).trim().split('\n');
  } catch {
    return undefined;
  }
}

/** All sides do the same in turn, and the best of their runs counts: what the machine does meanwhile hits each. */
const ROUNDS = 8;

export function kernelRows() {
  const folder = mkdtempSync(join(tmpdir(), 'jaunty-bench-'));
  try {
    const inC = plainC(folder);
    const random = standardRandom();
    const x = Float64Array.from({ length: ROWS }, () => 100 + random.next().value);
    const time = Float64Array.from({ length: ROWS }, (_, row) => row * 60e6);
    const best = { c: {}, plain: {}, ours: {} };
    const least = (side, name, taken) => (best[side][name] = Math.min(best[side][name] ?? Infinity, taken));
    for (let round = 0; round < ROUNDS; round++) {
      for (const line of inC?.() ?? []) {
        const [name, taken] = line.split(' ');
        least('c', name, Number(taken));
      }
      for (const [name, formula] of Object.entries(FORMULAS)) {
        const loop = () => PLAIN[name](x);
        const evaluated = () => evaluate([formula], { time, columns: { x } });
        least('plain', name, bestOf(3, loop));
        least('ours', name, bestOf(3, evaluated));
      }
    }
    const rows = Object.entries(FORMULAS).map(([name, formula]) => {
      const [c, plain, ours] = [best.c[name], best.plain[name], best.ours[name]];
      const besideC = c === undefined ? '' : `, ${times(ours / c)} plain C (${c.toFixed(0)} ms)`;
      const beside = `${times(ours / plain)} a straight JavaScript loop (${plain.toFixed(0)} ms)${besideC}`;
      return [`\`${formula}\``, `${ours.toFixed(0)} ms`, beside];
    });
    return { rows, meanInC: best.c.mean };
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
