const UNITS = [
  ['day', 86_400e6],
  ['h', 3600e6],
  ['min', 60e6],
  ['s', 1e6],
] as const;

/** A stretch of time in its two largest units: `3 days 4 h`, `25 min`. */
export function stretchText(micros: number): string {
  const at = UNITS.findIndex(([, size]) => micros >= size);
  if (at < 0) return micros === 0 ? '0 s' : `${(micros / 1e6).toFixed(3)} s`;
  const parts: string[] = [];
  let rest = micros;
  for (const [unit, size] of UNITS.slice(at, at + 2)) {
    const count = Math.floor(rest / size);
    rest -= count * size;
    if (count > 0) parts.push(`${count} ${unit === 'day' && count > 1 ? 'days' : unit}`);
  }
  return parts.join(' ');
}
