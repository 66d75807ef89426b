/*
 * The rows are cut into blocks of N. A window of N rows is the end of one block and the beginning of the next, so its
 * extreme is that of a running one over the first and a running one over the second (van Herk 1992).
 */

/**
 * Least (`sign` -1) or greatest (`sign` 1) value of the last `bars` rows; the first rows have windows of fewer, `from` on.
 * @returns  whether all is filled: false where x has a gap
 */
export function blockExtreme(x: Float64Array, bars: number, from: number, sign: 1 | -1, out: Float64Array): boolean {
  const rows = x.length;
  let gaps = 0; // NaN from the first missing value on: comparing alone would pass it over
  const ends = new Float64Array(Math.min(bars, rows) + 1).fill(-Infinity);
  let most = -Infinity;
  for (let t = 0; t < Math.min(bars, rows); t++) {
    const value = sign * x[t];
    gaps += value * 0;
    if (value > most) most = value;
    out[t] = t + 1 < from ? NaN : sign * most;
  }
  for (let block = bars; block < rows; block += bars) {
    if (gaps !== 0) return false;
    most = -Infinity;
    for (let i = bars - 1; i > 0; i--) {
      const value = sign * x[block - bars + i];
      if (value > most) most = value;
      ends[i] = most;
    }
    most = -Infinity;
    const last = Math.min(bars, rows - block);
    for (let i = 0; i < last; i++) {
      const value = sign * x[block + i];
      gaps += value * 0;
      if (value > most) most = value;
      out[block + i] = sign * (ends[i + 1] > most ? ends[i + 1] : most);
    }
  }
  return gaps === 0;
}
