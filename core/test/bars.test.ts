import { describe, expect, it } from 'vitest';
import {
  BAR_FIELDS,
  buildBars,
  makeCalendar,
  parseBarRule,
  type Bars,
  type BuiltBars,
  type Calendar,
} from '@jaunty-ledger/core';
import { column, expectColumn, readReference, type Listed } from './referenceCases.js';

interface Tape {
  zone: string;
  session: null | { open: string; close: string; days: string[]; closed: string[] };
  hours?: 'all';
}
interface Request {
  interval?: number;
  by?: string;
  count?: number;
  volume?: number;
  value?: number;
  range?: number;
  empty?: string;
  restart?: string;
}
type Columns = Record<string, Listed>;
interface BarCase {
  name: string;
  tape: Tape;
  input: Columns & { interval?: number };
  requests: Request[];
  small?: Request;
  expected_small?: Columns;
  expected: { bars?: Columns; left_out?: number; refused?: string }[];
}

function calendarOf({ zone, session }: Tape): Calendar {
  if (!session) return makeCalendar({ zone });
  const { open, close, days, closed } = session;
  return makeCalendar({ zone, session: `${open}-${close}`, weekdays: days, closed });
}

function ruleOf(request: Request, hours?: 'all') {
  const { interval, by, count, volume, value, range, empty, restart } = request;
  const kind =
    (interval && `${interval} seconds`) ||
    (by && `1 ${by}`) ||
    (count && `${count} trades`) ||
    (volume && `${volume} units`) ||
    (value && `${value} value`) ||
    `range ${range}`;
  const options = [empty && `empty: ${empty}`, restart && `restart: ${restart}`, hours && 'all hours'];
  return parseBarRule([kind, ...options.filter(Boolean)].join(', '));
}

function sourceOf(input: BarCase['input']) {
  const columns = Object.fromEntries(
    Object.entries(input).flatMap(([name, values]) => (Array.isArray(values) ? [[name, column(values)]] : [])),
  );
  const { time } = columns;
  if (columns.price) return { time, price: columns.price, size: columns.size };
  if (columns.bid) return { time, bid: columns.bid, ask: columns.ask };
  const missing = new Float64Array(time.length).fill(NaN);
  const end = time.map((start) => start + input.interval! * 1e6);
  return { value: missing, vwap: missing, complete: new Uint8Array(time.length), end, ...columns } as unknown as Bars;
}

function expectBars(bars: BuiltBars, want: Columns, toleranceOf: ReturnType<typeof readReference>['toleranceOf']) {
  for (const [field, values] of Object.entries(want))
    expectColumn(
      field,
      bars[field as Exclude<keyof Bars, 'texts' | 'numbers'>]!,
      values.map((v) => (typeof v === 'boolean' ? Number(v) : v)),
      toleranceOf(field),
    );
}

describe.each(['bars_dst', 'bars_sessions', 'bars_running'])('%s', (file) => {
  const { cases, toleranceOf } = readReference<BarCase & { tolerance?: never }>(file);
  for (const { name, tape, input, requests, expected } of cases)
    it.each(requests.map((request, index) => [JSON.stringify(request), request, expected[index]] as const))(
      `${name}: %s`,
      (_, request, want) => {
        const bars = buildBars(sourceOf(input), ruleOf(request, tape.hours), calendarOf(tape));
        expectBars(bars, want.bars!, toleranceOf);
        expect(bars.leftOut).toBe(want.left_out);
      },
    );
});

describe('bars_larger', () => {
  const { cases, toleranceOf } = readReference<BarCase & { tolerance?: never }>('bars_larger');
  for (const { name, tape, input, small, requests, expected, expected_small } of cases) {
    const calendar = calendarOf(tape);
    const source = sourceOf(input);
    const smaller = buildBars(source, ruleOf(small!), calendar);
    it(`${name}: ${JSON.stringify(small)}`, () => expectBars(smaller, expected_small!, toleranceOf));
    it.each(requests.map((request, index) => [JSON.stringify(request), request, expected[index]] as const))(
      `${name}: then %s`,
      (_, request, want) => {
        if (want.refused)
          return expect(() => buildBars(smaller, ruleOf(request), calendar)).toThrow(
            /must be (no finer|a whole multiple)/,
          );
        const larger = buildBars(smaller, ruleOf(request), calendar);
        expectBars(larger, want.bars!, toleranceOf);
        if (!('price' in source)) return;
        const direct = buildBars(source, ruleOf(request), calendar);
        for (const field of BAR_FIELDS.filter((f) => !['value', 'vwap'].includes(f)))
          expect(larger[field], field).toEqual(direct[field]);
      },
    );
  }
});
