import { WEEKDAYS, type Weekday } from './calendar.js';
import { weekdayOf, type DayNumber } from './instant.js';

const MIN_DATES = 30;
const MIN_WEEKS = 6;
/** A weekday with records in a smaller share of the weeks is closed. */
const MIN_SHARE = 0.005;
/** Records of a smaller share of all weeks are monthly or rarer: which weekdays they fall on is chance. */
const MIN_COVERED = 0.5;

/** Counts the dates that have records, and infers on which weekdays there is no trading. */
export class WeekdaySeeker {
  private readonly counts = new Uint32Array(7);
  private dates = 0;
  private weeks = 0;
  private firstWeek = NaN;
  private week = NaN;
  private last: DayNumber = -Infinity;

  /** @param date  of a record; dates must not fall */
  add(date: DayNumber): void {
    if (date <= this.last) return;
    this.last = date;
    const weekday = weekdayOf(date);
    this.dates++;
    this.counts[weekday]++;
    const week = (date - weekday) / 7;
    if (week !== this.week) this.weeks++;
    if (Number.isNaN(this.firstWeek)) this.firstWeek = week;
    this.week = week;
  }

  /**
   * The weekdays with trading, where others are closed: at least 30 dates in 6 weeks have records, and those of the other
   * weekdays in under 0.5 % of the weeks.
   * @returns  undefined where every weekday is open, or too little is known
   * @see definitions, section 1, weekdays
   */
  openDays(): Weekday[] | undefined {
    const span = this.week - this.firstWeek + 1;
    if (this.dates < MIN_DATES || this.weeks < MIN_WEEKS || this.weeks < MIN_COVERED * span) return undefined;
    const open = WEEKDAYS.filter((_, day) => this.counts[day] >= MIN_SHARE * this.weeks);
    return open.length < 7 ? open : undefined;
  }

  /** Whether some records fall on a weekday that is closed all the same. */
  get hasStrays(): boolean {
    const open: readonly string[] = this.openDays() ?? WEEKDAYS;
    return WEEKDAYS.some((name, day) => !open.includes(name) && this.counts[day] > 0);
  }
}
