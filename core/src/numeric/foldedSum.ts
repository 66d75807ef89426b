/** Numbers that are summed plainly before they are folded into a compensated sum. */
export const RUN = 64;

/** What a sum of two doubles loses by rounding, exactly. @see Knuth 1969, Ogita, Rump and Oishi 2005 */
export function lostBy(a: number, b: number, sum: number): number {
  const part = sum - a;
  return a - (sum - part) + (b - part);
}

/**
 * A long sum of short ones: whoever sums adds up runs of 64 numbers in a local variable and folds each run in here. So the
 * error stays below 64 u of the sum of the magnitudes, u = 2^-53, however many there are, at the cost of a plain sum.
 */
export class FoldedSum {
  value = NaN;
  private sum = NaN;
  private error = NaN;

  clear(): void {
    this.value = this.sum = this.error = 0;
  }

  fold(part: number): void {
    const next = this.sum + part;
    this.error += lostBy(this.sum, part, next);
    this.sum = next;
    this.value = next + this.error;
  }
}
