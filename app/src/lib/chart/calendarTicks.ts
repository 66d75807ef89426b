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

/** A unit of the calendar that ticks count. */
type TickUnit = 'year' | 'month' | 'week' | 'day' | 'period';
/** A distance between ticks in units of the calendar, from a round number on: every 25 years is 1900, 1925, 1950. */
interface TickStep {
  unit: Exclude<TickUnit, 'period'>;
  every: number;
}

/** Rows at which a trading day begins, with the day it is. */
export interface DayStarts {
  rows: Int32Array;
  /** Days since the epoch. */
  dates: Int32Array;
  /** Months since the year 0: looked up with each move of the view, for all days in it. */
  months: Int32Array;
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
  return { rows: Int32Array.from(rows), dates: Int32Array.from(dates), months: Int32Array.from(dates, monthOf) };
}

function monthOf(date: number): number {
  const at = new Date(date * 86_400_000);
  return at.getUTCFullYear() * 12 + at.getUTCMonth();
}

/** A vertical rule, and what is written at it. */
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
const ROOM_PX = { year: 48, month: 44, week: 84, day: 92, clock: 52, period: 44 };
/** A month that says its year too, as the first in view does. */
const MONTH_AND_YEAR_PX = 72;
const MILLISECOND = SECOND / 1000;
const CLOCK_STEPS = [
  ...[1, 2, 5, 10, 20, 50, 100, 200, 500].map((millis) => millis * MILLISECOND),
  ...[1, 2, 5, 10, 15, 30].map((seconds) => seconds * SECOND),
  ...[1, 2, 5, 10, 15, 30, 60, 120, 240].map((minutes) => minutes * MINUTE),
];
/** A clock time with its seconds takes more room, and one with parts of them more again. */
const clockRoom = (step: number): number => ROOM_PX.clock + (step < SECOND ? 44 : step < MINUTE ? 20 : 0);

/** Texts of ticks: a day says its month; a month is a name, and January the year. */
function textOf(date: number, unit: TickUnit): string {
  const at = new Date(date * 86_400_000);
  const [day, month, year] = [at.getUTCDate(), MONTHS[at.getUTCMonth()], at.getUTCFullYear()];
  switch (unit) {
    case 'year':
      return String(year);
    case 'month':
      return at.getUTCMonth() === 0 ? String(year) : month;
    case 'week':
      return `${day} ${month} ${String(year).slice(2)}`;
    case 'day':
      return `${DAYS[weekdayOf(date)]} ${day} ${month}`;
    case 'period':
      return String(date);
    default:
      return unit satisfies never;
  }
}

/** The number of the unit that a date lies in. */
function unitNumber(date: number, month: number, unit: TickStep['unit']): number {
  switch (unit) {
    case 'year':
      return Math.floor(month / 12);
    case 'month':
      return month;
    case 'week':
      return Math.floor((date - weekdayOf(date)) / 7);
    case 'day':
      return date;
    default:
      return unit satisfies never;
  }
}

interface Start {
  row: number;
  date: number;
}

/** Rows in view with which a step of the calendar begins; undefined as soon as there are more than fit. */
function startsOf(
  { rows, dates, months }: DayStarts,
  { unit, every }: TickStep,
  [from, to]: readonly [number, number],
  most: number,
): Start[] | undefined {
  const starts: Start[] = [];
  const isNamed = every > 1 && (unit === 'year' || unit === 'month');
  for (let i = firstRowFrom(rows, from, 0); i < rows.length && rows[i] < to; i++) {
    const step = Math.floor(unitNumber(dates[i], months[i], unit) / every);
    // before the first row of all there are none: it begins a step where the week before lies in another one
    const before =
      i === 0 ? unitNumber(dates[0] - 7, monthOf(dates[0] - 7), unit) : unitNumber(dates[i - 1], months[i - 1], unit);
    if (step === Math.floor(before / every)) continue;
    if (starts.length === most) return undefined;
    starts.push({ row: rows[i], date: isNamed ? firstDateOf(unit, step * every) : dates[i] });
  }
  return starts;
}

/** The first date of a year or month by its number: where rows are missing there, the tick is named after it all the same. */
function firstDateOf(unit: TickStep['unit'], number: number): number {
  const [year, month] = unit === 'year' ? [number, 0] : [Math.floor(number / 12), number % 12];
  const at = new Date(0);
  at.setUTCFullYear(year, month, 1);
  return at.getTime() / 86_400_000;
}

const MONTH_STEPS = [1, 3].map((every): TickStep => ({ unit: 'month', every }));
const YEAR_STEPS = [1, 2, 5, 10, 25, 50, 100, 250, 500, 1000, 2500, 5000].map((every): TickStep => ({
  unit: 'year',
  every,
}));
const DAY_STEPS: readonly TickStep[] = [
  { unit: 'day', every: 1 },
  { unit: 'week', every: 1 },
  { unit: 'week', every: 2 },
  ...MONTH_STEPS,
  ...YEAR_STEPS,
];

/** Steps of ticks by the precision of times, the finest first: monthly values have no days. */
const STEPS: Readonly<Record<Exclude<Precision, 'period'>, readonly TickStep[]>> = {
  moment: DAY_STEPS,
  day: DAY_STEPS,
  month: [...MONTH_STEPS, ...YEAR_STEPS],
  quarter: [...MONTH_STEPS.slice(1), ...YEAR_STEPS],
  year: YEAR_STEPS,
};

/**
 * The rules and texts of a view: the finest step of days, weeks, months and round years that leaves room for a text at each
 * rule, and clock times between days where there is room for those too. No rule is without a text.
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
  if (found.some(({ isMain }) => isMain)) return found;
  const areMonths = found.length > 0 && found.every(({ text }) => MONTHS.includes(text));
  const unit = precision === 'period' ? 'period' : areMonths ? 'month' : STEPS[precision][0].unit;
  const leading = leadingTick(view, time, days, widthPx, unit);
  return spaced([...leading, ...found], unit === 'month' ? MONTH_AND_YEAR_PX : ROOM_PX[unit], widthPx);
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
  const year = unit === 'month' ? ` ${new Date(dates[at] * 86_400_000).getUTCFullYear()}` : '';
  const text = textOf(dates[at], unit);
  return [{ row: from, x, text: text === year.trim() ? text : `${text}${year}`, isLeft: false, isMain: true }];
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
  for (const step of STEPS[precision]) {
    const { unit } = step;
    const isLast = step === STEPS[precision].at(-1);
    const most = isLast ? Infinity : Math.floor(widthPx / ROOM_PX[unit]) + 1;
    const starts = startsOf(days, step, [from, to], most);
    if (!starts) continue;
    const apart =
      starts.length > 1 ? (xOf(starts[starts.length - 1].row) - xOf(starts[0].row)) / (starts.length - 1) : widthPx;
    if (apart < ROOM_PX[unit] && !isLast) continue;
    const calendarTicks = starts.map(({ row, date }) => ({
      row,
      x: xOfRow(view, row - 0.5, widthPx),
      text: textOf(date, unit),
      isLeft: false,
      // years stand out among months
      isMain: unit !== 'month' || monthOf(date) % 12 === 0,
    }));
    const placed = spaced(calendarTicks, ROOM_PX[unit], widthPx);
    // days may be cut short; months and years that follow each other have rules at all of them, or none
    const mostDropped = unit === 'day' ? calendarTicks.length / 10 : 0;
    const rows = new Set(placed.map(({ row }) => row));
    const dropped = calendarTicks.filter(({ row, x }) => !rows.has(row) && x + ROOM_PX[unit] <= widthPx);
    if (!isLast && dropped.length > mostDropped) continue;
    const clock = unit === 'day' && precision === 'moment' ? clockTicks(view, time, days, calendar, widthPx) : [];
    return clock.length > 0 ? spaced([...calendarTicks, ...clock], ROOM_PX[unit], widthPx) : placed;
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
 * Drops ticks whose texts would run into one already placed, main ones first, or leave the plot; one that has no room after
 * its rule may have it before.
 */
function spaced(calendarTicks: CalendarTick[], roomPx: number, widthPx: number): CalendarTick[] {
  const taken: { from: number; to: number }[] = [];
  const isFree = (from: number, to: number) =>
    from >= 0 && to <= widthPx && taken.every((other) => to <= other.from || from >= other.to);
  const roomOf = ({ text }: CalendarTick) =>
    text.includes(':') ? ROOM_PX.clock + 6.5 * Math.max(0, text.length - 5) : roomPx;
  const placed: CalendarTick[] = [];
  const place = (tick: CalendarTick, isLeft: boolean) => {
    const room = roomOf(tick);
    const [from, to] = isLeft ? [tick.x - room, tick.x] : [tick.x, tick.x + room];
    if (!isFree(from, to)) return;
    taken.push({ from, to });
    placed.push({ ...tick, isLeft });
  };
  const ordered = [true, false].flatMap((isMain) => calendarTicks.filter((tick) => tick.isMain === isMain));
  const isAtEdge = (tick: CalendarTick) => tick.x + roomOf(tick) > widthPx;
  for (const tick of ordered) if (!isAtEdge(tick)) place(tick, false);
  // those at the edge have their texts before their rules, where no other needs the room
  for (const tick of ordered) if (isAtEdge(tick)) place(tick, true);
  return placed.sort((a, b) => a.x - b.x);
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
