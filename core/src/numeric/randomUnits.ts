/** Numbers evenly between 0 and 1, neither included, the same for the same seed: xorshift after Marsaglia 2003. */
export function randomUnits(seed: number): () => number {
  let state = (seed * 2654435761 + 1) >>> 0 || 1;
  return () => {
    state ^= state << 13;
    state >>>= 0;
    state ^= state >>> 17;
    state ^= state << 5;
    state >>>= 0;
    return state / 2 ** 32;
  };
}
