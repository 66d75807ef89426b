/** The same values in another order, by a generator that is seeded: Fisher and Yates 1938; xorshift after Marsaglia 2003. */
export function shuffled(x: Float64Array, seed: number): Float64Array {
  const out = x.slice();
  let state = (seed * 2654435761 + 1) >>> 0 || 1;
  for (let last = out.length - 1; last > 0; last--) {
    state ^= state << 13;
    state >>>= 0;
    state ^= state >>> 17;
    state ^= state << 5;
    state >>>= 0;
    const at = Math.floor((state / 2 ** 32) * (last + 1));
    [out[last], out[at]] = [out[at], out[last]];
  }
  return out;
}
