/** A measure of the `size` values from a row on. NaN where the box is left out. */
export type BoxMeasure = (x: Float64Array, start: number) => number;

export function boxMeasure(by: 'rs' | 'dfa', size: number): BoxMeasure {
  return by === 'rs' ? (x, start) => rescaledRange(x, start, size) : detrendedSquare(size);
}

/** Range of the running sums of deviations from the box's mean, over the deviation; NaN for equal values (Hurst 1951). */
function rescaledRange(x: Float64Array, start: number, size: number): number {
  const end = start + size;
  const origin = x[start];
  let sum = 0;
  for (let i = start; i < end; i++) sum += x[i] - origin;
  const mean = sum / size;
  let reached = 0;
  let highest = 0;
  let lowest = 0;
  let squares = 0;
  let isConstant = true;
  for (let i = start; i < end; i++) {
    const d = x[i] - origin - mean;
    if (x[i] !== origin) isConstant = false;
    squares += d * d;
    reached += d;
    if (reached > highest) highest = reached;
    if (reached < lowest) lowest = reached;
  }
  return isConstant ? NaN : (highest - lowest) / Math.sqrt(squares / size);
}

/**
 * Mean square distance of the running sum from its own straight line (Peng et al. 1994). What is taken off every value
 * only tilts the running sum, which the line takes up again: so the window's mean does not matter, and the box's is taken
 * off to keep the sums small.
 */
function detrendedSquare(size: number): BoxMeasure {
  const middle = (size - 1) / 2;
  const spread = (size * (size * size - 1)) / 12;
  return (x, start) => {
    const end = start + size;
    const second = x[start + 1];
    let sum = 0;
    let isConstant = true;
    for (let i = start; i < end; i++) {
      sum += x[i] - second;
      if (i > start && x[i] !== second) isConstant = false;
    }
    if (isConstant) return 0; // the running sum is a straight line
    const mean = sum / size;
    let reached = 0;
    let s = 0;
    let sp = 0;
    let ss = 0;
    for (let i = start; i < end; i++) {
      reached += x[i] - second - mean;
      s += reached;
      sp += (i - start - middle) * reached;
      ss += reached * reached;
    }
    return Math.max(0, ss - (s * s) / size - (sp * sp) / spread) / size;
  };
}
