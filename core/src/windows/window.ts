import type { Calendar } from '../time/calendar.js';
import type { DayNumber } from '../time/instant.js';
import { monthsBefore, periodStart } from '../time/periods.js';

export type ThisPeriod = 'session' | 'day' | 'week' | 'month' | 'year';

/** Which rows a value is made of; section 4 of the definitions. */
export type Window =
  | { kind: 'bars'; bars: number; placed: 'behind' | 'centre' | 'ahead'; skip: number }
  | { kind: 'time'; micros: number; skip: number }
  /** Rows whose trading date lies after the date so many months before. */
  | { kind: 'months'; months: number; skip: number }
  | { kind: 'this'; period: ThisPeriod; skip: number }
  | { kind: 'all'; skip: number };

/** A window of the last `bars` rows, the current one included. */
export const lastBars = (bars: number): Window => ({ kind: 'bars', bars, placed: 'behind', skip: 0 });

/** Rows before and after its own that a value is made of. */
export interface Reach {
  before: number;
  after: number;
}

const aheadOf = ({ bars, placed }: Extract<Window, { kind: 'bars' }>): number =>
  placed === 'behind' ? 0 : placed === 'ahead' ? bars - 1 : Math.ceil((bars - 1) / 2);

/** How far a window reaches; undefined for one whose rows cannot be told by counting. */
export function reachOfWindow(window: Window): Reach | undefined {
  if (window.kind !== 'bars') return undefined;
  const last = aheadOf(window) - window.skip;
  return { before: Math.max(0, window.bars - 1 - last), after: Math.max(0, last) };
}

/** Rows a pass of `WindowBounds.fill` settles: small enough for the first cache beside the columns. */
export const BLOCK_ROWS = 2048;

/**
 * The rows of each row's window as [first, end). Neither ever falls from one row to the next, which is what the kernels
 * stand on. Asked for a block at a time and in order, so that a kernel needs no index column of full length.
 */
interface WindowBounds {
  fill(from: number, to: number, first: Int32Array, end: Int32Array): void;
}

/** Rows that are worked out without most of those before them, and come out to the last bit as with them. */
export interface Slide {
  /** The first row that is asked for. Those before it are only looked back on, and get no value. */
  from: number;
  /** Told of rows that may be begun with another time, and of the first row of their window. */
  restart: (row: number, first: number) => void;
}

/** What windows in time need to know of the rows. */
export interface RowTimes {
  time: Float64Array;
  calendar: Calendar;
  slide?: Slide;
  /** Told the share that is done, 0 to 1, as the bounds are asked for; it may throw to stop. */
  progress?: (share: number) => void;
}

/** The bounds of a window over `rows` rows. Only windows by bars can do without times. */
export function boundsOf(window: Window, rows: number, times?: RowTimes): WindowBounds {
  const bounds = untoldBounds(window, rows, times);
  const progress = times?.progress;
  if (!progress) return bounds;
  return {
    fill(from, to, first, end) {
      progress(from / rows);
      bounds.fill(from, to, first, end);
    },
  };
}

function untoldBounds(window: Window, rows: number, times?: RowTimes): WindowBounds {
  if (window.kind === 'bars') return barBounds(window, rows);
  if (window.kind === 'all') return startBounds(() => 0, window.skip);
  if (!times) throw new TypeError(`a window by ${window.kind} needs the times of the rows`);
  if (window.kind === 'time') return timeBounds(times.time, window.micros, window.skip);
  if (window.kind === 'months') return monthBounds(times, window.months, window.skip);
  return startBounds(groupStarts(times, window.period), window.skip);
}

function barBounds(window: Extract<Window, { kind: 'bars' }>, rows: number): WindowBounds {
  const { bars, skip } = window;
  const ahead = aheadOf(window);
  return {
    fill(from, to, first, end) {
      for (let t = from; t < to; t++) {
        const last = t + ahead - skip;
        first[t - from] = Math.max(0, last - bars + 1);
        end[t - from] = Math.max(0, Math.min(rows, last + 1));
      }
    },
  };
}

function timeBounds(time: Float64Array, micros: number, skip: number): WindowBounds {
  let low = 0;
  return {
    fill(from, to, first, end) {
      for (let t = from; t < to; t++) {
        const row = t - skip;
        if (row >= 0) while (time[low] <= time[row] - micros) low++;
        first[t - from] = low;
        end[t - from] = Math.max(0, row + 1);
      }
    },
  };
}

function monthBounds({ time, calendar }: RowTimes, months: number, skip: number): WindowBounds {
  // for rows in order: the trading date of each, looked up once a day
  const dater = () => {
    let until = -Infinity;
    let date = NaN;
    return (row: number): DayNumber => {
      if (time[row] >= until) {
        const day = calendar.dayAt(time[row]);
        until = day.endsAt;
        date = day.date;
      }
      return date;
    };
  };
  const [dateOf, dateOfLow] = [dater(), dater()];
  let low = 0;
  let known: DayNumber = NaN;
  let before: DayNumber = NaN;
  return {
    fill(from, to, first, end) {
      for (let t = from; t < to; t++) {
        const row = t - skip;
        if (row >= 0) {
          const date = dateOf(row);
          if (date !== known) {
            known = date;
            before = monthsBefore(date, months);
          }
          while (dateOfLow(low) <= before) low++;
        }
        first[t - from] = low;
        end[t - from] = Math.max(0, row + 1);
      }
    },
  };
}

/** Windows that begin where a stretch of rows begins and grow with it. */
function startBounds(startOf: (row: number) => number, skip: number): WindowBounds {
  let reached = 0;
  return {
    fill(from, to, first, end) {
      for (let t = from; t < to; t++) {
        first[t - from] = startOf(t);
        // the first rows of a stretch look past its beginning when rows are skipped: their windows are empty
        reached = Math.max(reached, first[t - from], t + 1 - skip);
        end[t - from] = reached;
      }
    },
  };
}

/** For rows asked in order: the first row of the session, day, week, month or year that the row lies in. */
function groupStarts({ time, calendar }: RowTimes, period: ThisPeriod): (row: number) => number {
  const unit = period === 'session' ? 'day' : period;
  let start = 0;
  let dayEndsAt = -Infinity;
  let key = NaN;
  return (row) => {
    if (time[row] >= dayEndsAt) {
      const day = calendar.dayAt(time[row]);
      dayEndsAt = day.endsAt;
      const next = periodStart(day.date, unit);
      if (next !== key) start = row;
      key = next;
    }
    return start;
  };
}
