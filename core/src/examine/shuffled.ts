import { randomUnits } from '../numeric/randomUnits.js';

/** The same values in another order, by a generator that is seeded: Fisher and Yates 1938. */
export function shuffled(x: Float64Array, seed: number): Float64Array {
  const out = x.slice();
  const units = randomUnits(seed);
  for (let last = out.length - 1; last > 0; last--) {
    const at = Math.floor(units() * (last + 1));
    [out[last], out[at]] = [out[at], out[last]];
  }
  return out;
}
