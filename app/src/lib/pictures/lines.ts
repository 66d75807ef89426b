/** Figures as they are told: missing is null. */
export type Figures = readonly (number | null)[];

/** Figures as a column, in which missing is NaN. */
export const columnOf = (figures: Figures): Float64Array => Float64Array.from(figures, (one) => one ?? NaN);

/** Least and greatest of some figures; nothing where there is none. */
export function extentOfFigures(...columns: readonly Figures[]): [number, number] | undefined {
  let [least, greatest] = [Infinity, -Infinity];
  for (const column of columns)
    for (const value of column) {
      if (value === null) continue;
      least = Math.min(least, value);
      greatest = Math.max(greatest, value);
    }
  return least <= greatest ? [least, greatest] : undefined;
}

/** A line through figures, broken where one is missing. */
export function linePath(values: Figures, x: (at: number) => number, y: (value: number) => number): string {
  let path = '';
  let isOpen = false;
  values.forEach((value, at) => {
    if (value !== null) path += `${isOpen ? 'L' : 'M'}${x(at).toFixed(1)} ${y(value).toFixed(1)}`;
    isOpen = value !== null;
  });
  return path;
}

/** The density of a normal variable. */
export const normalDensity = (x: number, mean: number, stdev: number): number =>
  Math.exp(-(((x - mean) / stdev) ** 2) / 2) / (stdev * Math.sqrt(2 * Math.PI));

/** A figure in three digits, as it is said in a line of text. */
export const brief = (value: number | null): string =>
  value === null ? 'missing' : String(Number(value.toPrecision(3))).replace('-', '−');

/** A chance, as it is said in a line of text. */
export const chanceText = (p: number | null): string =>
  p === null ? 'missing' : p < 0.001 ? 'below 0.001' : String(Number(p.toPrecision(2)));

/** Whether a value of a column is there. */
export const isThere = (value: number | undefined): value is number => value !== undefined && !Number.isNaN(value);

/** Points of a normal plot: where a normal variable would have each value, and the value. */
export const normalPoints = ({ quantiles, values }: { quantiles: Figures; values: Figures }): [number, number][] =>
  quantiles.flatMap((quantile, at): [number, number][] => {
    const value = values[at];
    return quantile === null || value === null ? [] : [[quantile, value]];
  });
