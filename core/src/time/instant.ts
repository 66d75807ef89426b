/** Whole microseconds since the Unix epoch, UTC; exact in a double to the year 2255. */
export type Instant = number;

/** Microseconds of a wall clock, counted as if it stood in UTC. */
export type WallTime = number;

/** Days since 1970-01-01, of a calendar date. */
export type DayNumber = number;

export const SECOND = 1_000_000;
export const MINUTE = 60 * SECOND;
export const HOUR = 60 * MINUTE;
export const DAY = 24 * HOUR;

/** The calendar date of a wall clock. */
export const dayOfWall = (wall: WallTime): DayNumber => Math.floor(wall / DAY);

/** `YYYY-MM-DD` of a day number. */
export function dateText(day: DayNumber): string {
  return new Date((day * DAY) / 1000).toISOString().slice(0, 10);
}

/**
 * The day number of a `YYYY-MM-DD` date.
 * @returns NaN where the text is no date of the calendar
 */
export function dayNumber(date: string): DayNumber {
  const match = /^(\d{4})-(\d{2})-(\d{2})$/.exec(date);
  if (!match) return NaN;
  const day = Date.UTC(Number(match[1]), Number(match[2]) - 1, Number(match[3])) / 86_400_000;
  return dateText(day) === date ? day : NaN;
}

/** Monday is 0, Sunday 6. */
export const weekdayOf = (day: DayNumber): number => (((day + 3) % 7) + 7) % 7;

/** Microseconds since midnight of a `HH:MM` or `HH:MM:SS` clock time; NaN where it is none. */
export function clockTime(text: string): number {
  const match = /^([01]\d|2[0-3]):([0-5]\d)(?::([0-5]\d))?$/.exec(text);
  return match ? Number(match[1]) * HOUR + Number(match[2]) * MINUTE + Number(match[3] ?? 0) * SECOND : NaN;
}

/** The hour of a wall clock, 0 to 23; before 1970 as well. */
export const hourOfDay = (wall: WallTime): number => Math.floor(wall / HOUR) - 24 * Math.floor(wall / DAY);
