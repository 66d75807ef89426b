import { WEEKDAYS, type Weekday } from './calendar.js';
import { DAY, dayOfWall, MINUTE, weekdayOf, type WallTime } from './instant.js';

/** Hours and days that all records of a tape lie in, as a guess at its session. */
export interface SessionGuess {
  /** `09:30-16:00`. */
  session: string;
  weekdays: Weekday[];
}

/** Clock times are told apart to five minutes. */
const BIN = 5 * MINUTE;
const BINS = DAY / BIN;
/** A market that is closed for less is one that runs on. */
const SHORTEST_NIGHT = (4 * 60 * MINUTE) / BIN;
const FEWEST_RECORDS = 20;
const FEWEST_DATES = 3;

/** Gathers the times of records, by the clock on the wall, and says which hours of which days they keep to. */
export class SessionSeeker {
  private readonly bins = new Uint8Array(BINS);
  private readonly weekdays = new Uint8Array(7);
  private records = 0;
  private dates = 0;
  private lastDate = NaN;

  add(wall: WallTime): void {
    const date = dayOfWall(wall);
    this.bins[Math.floor((wall - date * DAY) / BIN)] = 1;
    this.records++;
    if (date === this.lastDate) return;
    this.lastDate = date;
    this.dates++;
    this.weekdays[weekdayOf(date)] = 1;
  }

  /** Nothing where records are few, lie around the clock, or cross midnight, where a day could begin anywhere. */
  guess(): SessionGuess | undefined {
    if (this.records < FEWEST_RECORDS || this.dates < FEWEST_DATES) return undefined;
    const first = this.bins.indexOf(1);
    const last = this.bins.lastIndexOf(1);
    const night = BINS - (last + 1 - first);
    if (night < SHORTEST_NIGHT || last === first) return undefined;
    const seen = WEEKDAYS.filter((_, day) => this.weekdays[day] === 1);
    const isWorkingWeek = seen.length >= 3 && !this.weekdays[5] && !this.weekdays[6];
    return {
      session: `${clockOf(first)}-${clockOf(last + 1)}`,
      weekdays: isWorkingWeek ? WEEKDAYS.slice(0, 5) : seen.length >= 3 ? [...WEEKDAYS] : seen,
    };
  }
}

function clockOf(bin: number): string {
  const minutes = (bin * BIN) / MINUTE;
  return `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`;
}
