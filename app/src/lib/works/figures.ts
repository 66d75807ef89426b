/** JSON has no NaN: what is missing is null. */
export const figure = (value: number): number | null => (Number.isFinite(value) ? value : null);
export const figures = (values: ArrayLike<number>): (number | null)[] => Array.from(values, figure);
