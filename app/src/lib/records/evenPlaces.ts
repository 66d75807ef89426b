/** A number, or an instant in UTC, by what stands before its decimals, the decimals, and what stands after them. */
const DECIMAL = /^(-?\d+|\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d)(?:\.(\d+))?(Z?)$/;

/**
 * Texts of one column, each with as many decimal places as the one that has the most, so that figures stand under one
 * another. Numbers and instants only: other texts stay as they are.
 */
export function evenPlaces(texts: readonly string[]): string[] {
  const parts = texts.map((text) => DECIMAL.exec(text));
  const places = Math.max(0, ...parts.map((part) => part?.[2]?.length ?? 0));
  if (places === 0) return [...texts];
  return parts.map((part, index) =>
    part ? `${part[1]}.${(part[2] ?? '').padEnd(places, '0')}${part[3]}` : texts[index],
  );
}
