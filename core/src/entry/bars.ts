/* Records to candle bars: rules, calendars, and what builds bars of them. */

export { makeCalendar, Calendar, WEEKDAYS, type CalendarOptions, type Weekday } from '../time/calendar.js';
export { instantOf, rfc3339 } from '../time/rfc3339.js';
export type { Quotes, Ticks } from '../records/ticks.js';
export { BAR_COLUMNS, BAR_FIELDS, type Bars, type BuiltBars } from '../bars/bars.js';
export { BarRuleError, parseBarRule, printBarRule } from '../bars/barRule.js';
export type { BarRule } from '../bars/barKind.js';
export { BarBuilder, buildBars } from '../bars/buildBars.js';
export { frameOf } from '../bars/barFrame.js';
export { ArgumentError } from '../arguments.js';
