import { evaluate } from '../core/dist/index.js';
import { bestOf, standardRandom, times } from './timing.mjs';

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
  return(x) {
    const out = new Float64Array(x.length);
    for (let t = 1; t < x.length; t++) out[t] = x[t] / x[t - 1] - 1;
    return out;
  },
};

const FORMULAS = {
  mean: `mean(x, ${WINDOW} bars)`,
  stdev: `stdev(x, ${WINDOW} bars)`,
  ema: `ema(x, ${WINDOW} bars)`,
  lag: 'lag(x)',
  return: 'return(x)',
};

export function kernelRows() {
  const random = standardRandom();
  const x = Float64Array.from({ length: ROWS }, () => 100 + random.next().value);
  const time = Float64Array.from({ length: ROWS }, (_, row) => row * 60e6);
  return Object.entries(FORMULAS).map(([name, formula]) => {
    const plain = bestOf(3, () => PLAIN[name](x));
    const ours = bestOf(3, () => evaluate([formula], { time, columns: { x } }));
    return [
      `\`${formula}\``,
      `${ours.toFixed(0)} ms`,
      `${times(ours / plain)} a straight JavaScript loop (${plain.toFixed(0)} ms)`,
    ];
  });
}
