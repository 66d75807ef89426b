/** The least of some runs in milliseconds: what the machine can do when it is left alone. */
export function bestOf(runs, work) {
  let best = Infinity;
  for (let run = 0; run < runs; run++) {
    const started = performance.now();
    work();
    best = Math.min(best, performance.now() - started);
  }
  return best;
}

export const perSecond = (count, milliseconds) => `${((count / milliseconds) * 0.001).toFixed(2)} million/s`;
export const times = (ratio) => `${ratio.toFixed(2)} times`;

/** Numbers that look random and are the same each time: the minimal standard generator. */
export function* standardRandom(seed = 20210) {
  for (let s = seed; ;) yield (s = (s * 16807) % 2147483647) / 2147483647;
}

export const quantile = (values, p) => [...values].sort((a, b) => a - b)[Math.floor(p * (values.length - 1))];
