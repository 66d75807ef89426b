import { scaleLinear } from 'd3-scale';
import {
  DAY,
  dayOfWall,
  firstRowFrom,
  MINUTE,
  periodNumber,
  SECOND,
  weekdayOf,
  type Calendar,
  type Instant,
  type Precision,
} from '@jaunty-ledger/core';
import { rowsInView, xOfRow, type ViewWindow } from './viewWindow';

/** What begins at a row: where the vertical rules of the chart stand, by the zoom. */
type TickUnit = 'year' | 'month' | 'week' | 'day' | 'period';

/** Rows at which a trading day begins, with the day it is. */
export interface DayStarts {
  rows: Int32Array;
  /** Days since the epoch. */
  dates: Int32Array;
}

/** Looked up once for a set of bars: a binary search a day, not a look at every row. */
export function dayStarts(time: Float64Array, calendar: Calendar): DayStarts {
  const rows: number[] = [];
  const dates: number[] = [];
  for (let row = 0; row < time.length;) {
    const day = calendar.dayAt(time[row]);
    rows.push(row);
    dates.push(day.date);
    row = Math.max(row + 1, firstRowFrom(time, day.endsAt, row));
  }
  return { rows: Int32Array.from(rows), dates: Int32Array.from(dates) };
}

/** A vertical rule, and what is written at it. Not every rule has a text. */
export interface CalendarTick {
  /** The row that it stands before. */
  row: number;
  x: number;
  text: string;
  /** Whether the text stands before the rule: after it there is no room left. */
  isLeft: boolean;
  isMain: boolean;
}

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
/** Room that a text of each unit takes, with a little air, at the size of the axis. */
const ROOM_PX = { year: 48, month: 72, week: 84, day: 92, clock: 52, period: 44 };
/** Rules closer than this are a grid, no marks of the calendar; texts that find no room between them are left out. */
const LEAST_APART_PX = 40;
const MILLISECOND = SECOND / 1000;
const CLOCK_STEPS = [
  ...[1, 2, 5, 10, 20, 50, 100, 200, 500].map((millis) => millis * MILLISECOND),
  ...[1, 2, 5, 10, 15, 30].map((seconds) => seconds * SECOND),
  ...[1, 2, 5, 10, 15, 30, 60, 120, 240].map((minutes) => minutes * MINUTE),
];
/** A clock time with its seconds takes more room, and one with parts of them more again. */
const clockRoom = (step: number): number => ROOM_PX.clock + (step < SECOND ? 44 : step < MINUTE ? 20 : 0);

/** Texts are told apart by what lies above them: a day says its month, a month its year where it begins. */
function textOf(date: number, unit: TickUnit): string {
  const at = new Date(date * 86_400_000);
  const [day, month, year] = [at.getUTCDate(), MONTHS[at.getUTCMonth()], at.getUTCFullYear()];
  switch (unit) {
    case 'year':
      return String(year);
    case 'month':
      return `${month} ${year}`;
    case 'week':
      return `${day} ${month} ${String(year).slice(2)}`;
    case 'day':
      return `${DAYS[weekdayOf(date)]} ${day} ${month}`;
    case 'period':
      return String(date);
  }
}

function keyOf(date: number, unit: TickUnit): number {
  const at = new Date(date * 86_400_000);
  switch (unit) {
    case 'year':
      return at.getUTCFullYear();
    case 'month':
      return at.getUTCFullYear() * 12 + at.getUTCMonth();
    case 'week':
      return date - weekdayOf(date);
    case 'period':
    case 'day':
      return date;
  }
}

/** Starts of a unit among the days; the finest unit whose rules stand far enough apart is the one to draw. */
function startsOf(
  { rows, dates }: DayStarts,
  unit: TickUnit,
  from: number,
  to: number,
): { row: number; date: number }[] {
  const starts: { row: number; date: number }[] = [];
  for (let i = 0; i < rows.length; i++) {
    if (rows[i] < from || rows[i] >= to) continue;
    if (i === 0 || keyOf(dates[i], unit) !== keyOf(dates[i - 1], unit)) starts.push({ row: rows[i], date: dates[i] });
  }
  return starts;
}

/** Units of ticks by how exactly times are told, the finest first: months have no days. */
const UNITS: Readonly<Record<Exclude<Precision, 'period'>, readonly TickUnit[]>> = {
  moment: ['day', 'week', 'month', 'year'],
  day: ['day', 'week', 'month', 'year'],
  month: ['month', 'year'],
  quarter: ['month', 'year'],
  year: ['year'],
};

/**
 * The rules and texts of a view: the finest of days, weeks, months and years that leaves room for its texts, and clock
 * times between days where there is room for those too.
 * @param precision  how exactly times are told
 */
export function ticksInView(
  view: ViewWindow,
  time: Float64Array,
  days: DayStarts,
  calendar: Calendar,
  widthPx: number,
  precision: Precision = 'moment',
): CalendarTick[] {
  const found = turnsInView(view, time, days, calendar, widthPx, precision);
  if (found.some(({ text, isMain }) => text !== '' && isMain)) return found;
  const unit = precision === 'period' ? 'period' : UNITS[precision][0];
  return spaced([...leadingTick(view, time, days, widthPx, unit), ...found], ROOM_PX[unit], widthPx);
}

/** What the first row in view lies in, where nothing that turns in view says it. */
function leadingTick(
  view: ViewWindow,
  time: Float64Array,
  { rows, dates }: DayStarts,
  widthPx: number,
  unit: TickUnit,
): CalendarTick[] {
  const [from, to] = rowsInView(view, time.length);
  const at = rows.findLastIndex((row) => row <= from);
  if (to <= from || at < 0) return [];
  const x = Math.max(0, xOfRow(view, from - 0.5, widthPx));
  return [{ row: from, x, text: textOf(dates[at], unit), isLeft: false, isMain: true }];
}

/** Rules where something turns, with their texts. */
function turnsInView(
  view: ViewWindow,
  time: Float64Array,
  days: DayStarts,
  calendar: Calendar,
  widthPx: number,
  precision: Precision,
): CalendarTick[] {
  const [from, to] = rowsInView(view, time.length);
  const xOf = (row: number) => xOfRow(view, row, widthPx);
  if (precision === 'period') return spaced(periodTicks(days, from, to, xOf, widthPx), ROOM_PX.period, widthPx);
  for (const unit of UNITS[precision]) {
    const starts = startsOf(days, unit, from, to);
    const apart =
      starts.length > 1 ? (xOf(starts[starts.length - 1].row) - xOf(starts[0].row)) / (starts.length - 1) : widthPx;
    if (apart < LEAST_APART_PX && unit !== 'year') continue;
    const calendarTicks = starts.map(({ row, date }) => ({
      row,
      x: xOfRow(view, row - 0.5, widthPx),
      text: textOf(date, unit),
      isLeft: false,
      isMain: true,
    }));
    const clock = unit === 'day' && precision === 'moment' ? clockTicks(view, time, days, calendar, widthPx) : [];
    return spaced([...calendarTicks, ...clock], ROOM_PX[unit], widthPx);
  }
  return [];
}

/** Numbered periods at a round step. */
function periodTicks(
  { rows, dates }: DayStarts,
  from: number,
  to: number,
  xOf: (row: number) => number,
  widthPx: number,
): CalendarTick[] {
  const shown = Array.from(rows.keys()).filter((at) => rows[at] >= from && rows[at] < to);
  const most = Math.max(1, Math.floor(widthPx / (2 * ROOM_PX.period)));
  const [first = 0, last = 0] = [dates[shown[0]], dates[shown[shown.length - 1]]];
  const round = new Set(scaleLinear([first, last], [0, 1]).ticks(most));
  return shown
    .filter((at) => round.has(dates[at]))
    .map((at) => ({ row: rows[at], x: xOf(rows[at] - 0.5), text: String(dates[at]), isLeft: false, isMain: true }));
}

/** Clock times within the days in view, at the finest step that leaves room. */
function clockTicks(
  view: ViewWindow,
  time: Float64Array,
  days: DayStarts,
  calendar: Calendar,
  widthPx: number,
): CalendarTick[] {
  const [from, to] = rowsInView(view, time.length);
  if (to <= from) return [];
  const span = time[to - 1] - time[from];
  const pxPerMicro = (xOfRow(view, to - 1, widthPx) - xOfRow(view, from, widthPx)) / span;
  const perRow = span / Math.max(1, to - 1 - from);
  const step = CLOCK_STEPS.find(
    (candidate) => span > 0 && candidate * pxPerMicro >= clockRoom(candidate) && (view.trueTime || candidate >= perRow),
  );
  if (step === undefined) return [];
  const calendarTicks: CalendarTick[] = [];
  for (let i = 0; i < days.rows.length; i++) {
    const start = days.rows[i];
    const end = days.rows[i + 1] ?? time.length;
    if (end <= from || start >= to) continue;
    const firstWall = calendar.zone.wallAt(time[Math.max(start, from)]);
    const lastWall = calendar.zone.wallAt(time[Math.min(end, to) - 1]);
    for (let wall = Math.ceil(firstWall / step) * step; wall <= lastWall; wall += step) {
      const row = firstRowFrom(time, calendar.zone.instantOf(wall), start);
      if (row === start || row >= end) continue;
      calendarTicks.push({
        row,
        x: xOfRow(view, row - 0.5, widthPx),
        text: clockText(wall),
        isLeft: false,
        isMain: false,
      });
    }
  }
  return calendarTicks;
}

/**
 * Drops texts that would run into one already placed, main ones first, and all that would leave the plot; one that has no
 * room after its rule may stand before it.
 */
function spaced(calendarTicks: CalendarTick[], roomPx: number, widthPx: number): CalendarTick[] {
  const taken: { from: number; to: number }[] = [];
  const place = (tick: CalendarTick): CalendarTick => {
    const room = tick.isMain ? roomPx : ROOM_PX.clock + 6.5 * Math.max(0, tick.text.length - 5);
    const isFree = (from: number, to: number) =>
      from >= 0 && to <= widthPx && taken.every((other) => to <= other.from || from >= other.to);
    const isLeft = tick.x + room > widthPx && isFree(tick.x - room, tick.x);
    const [from, to] = isLeft ? [tick.x - room, tick.x] : [tick.x, tick.x + room];
    if (!isFree(from, to)) return { ...tick, text: '' };
    taken.push({ from, to });
    return { ...tick, isLeft };
  };
  const main = calendarTicks.filter((tick) => tick.isMain).map(place);
  const clock = calendarTicks.filter((tick) => !tick.isMain).map(place);
  return [...main, ...clock.filter((tick) => tick.text !== '')].sort((a, b) => a.x - b.x);
}

/** Time of the day, with its seconds where it is not on a minute, and their parts where it is not on a second. */
function clockText(wall: number): string {
  const inDay = wall - dayOfWall(wall) * DAY;
  const seconds = Math.floor(inDay / SECOND);
  const micros = Math.round(inDay - seconds * SECOND);
  const parts = [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60, seconds % 60];
  const text = parts
    .slice(0, parts[2] === 0 && micros === 0 ? 2 : 3)
    .map((part) => String(part).padStart(2, '0'))
    .join(':');
  return micros === 0
    ? text
    : `${text}.${String(micros)
        .padStart(6, '0')
        .replace(/0{1,3}$/, '')}`;
}

/** An instant in words by the market's own clock, as exactly as is asked: `Wed 11 Mar 2026 13:45`, `Mar 2026`, `Q1 2026`, `2026`. */
export function momentText(instant: Instant, calendar: Calendar, precision: Precision): string {
  if (precision === 'period') return `period ${periodNumber(instant)}`;
  const wall = calendar.zone.wallAt(instant);
  const date = dayOfWall(wall);
  const at = new Date(date * 86_400_000);
  const [month, year] = [MONTHS[at.getUTCMonth()], at.getUTCFullYear()];
  if (precision === 'year') return String(year);
  if (precision === 'quarter') return `Q${Math.floor(at.getUTCMonth() / 3) + 1} ${year}`;
  if (precision === 'month') return `${month} ${year}`;
  const day = `${DAYS[weekdayOf(date)]} ${at.getUTCDate()} ${month} ${year}`;
  return precision === 'moment' ? `${day} ${clockText(wall)}` : day;
}

/** The same within a sentence: `on Wed 11 Mar 2026`, `in Mar 2026`. */
export const whenText = (instant: Instant, calendar: Calendar, precision: Precision): string =>
  `${precision === 'moment' || precision === 'day' ? 'on' : 'in'} ${momentText(instant, calendar, precision)}`;
