import { dayNumber, makeCalendar, MINUTE, type TradingDay } from '@jaunty-ledger/core';
import type { Instrument } from './instruments.js';
import { DAILY_FROM, LAST_DATE, MINUTES_FROM, SESSION_MINUTES, TARN_HARBOUR, TRADES_FROM } from './market.js';
import type { Path } from './paths.js';
import { Random } from './random.js';

/** Columns of records, by the names of their kind. */
export type Columns = { time: Float64Array } & Record<string, Float64Array>;

const calendar = makeCalendar(TARN_HARBOUR);

/** Open trading days from one date to another, both included. */
function tradingDays(from: string, to: string): TradingDay[] {
  const days: TradingDay[] = [];
  for (
    let day = calendar.openDayAfter(dayNumber(from) - 1);
    day.date <= dayNumber(to);
    day = calendar.openDayAfter(day.date)
  )
    days.push(day);
  return days;
}

const cents = (price: number): number => Math.round(price * 100) / 100;

/** All records of one instrument, from its seed: trades, minutes and days tell of one and the same price. */
export class History {
  private readonly days = tradingDays(MINUTES_FROM, LAST_DATE);
  /** Logs of the price at every minute of every full session, one path through all of them. */
  private readonly minutes: Path;
  private readonly random: Random;

  constructor(
    private readonly instrument: Instrument,
    seed: number,
  ) {
    this.random = new Random(seed);
    this.minutes = instrument.path({ count: this.days.length * SESSION_MINUTES, aDay: SESSION_MINUTES }, this.random);
  }

  trades(): Columns {
    const time: number[] = [];
    const price: number[] = [];
    const size: number[] = [];
    const { random } = this;
    const firstDate = dayNumber(TRADES_FROM);
    this.days.forEach((day, index) => {
      if (day.date < firstDate) return;
      for (let minute = 0; day.opensAt + minute * MINUTE < day.closesAt; minute++) {
        const count = random.poisson(this.instrument.pace * paceAt(minute));
        const moments = Array.from({ length: count }, () => random.uniform()).sort((a, b) => a - b);
        for (const moment of moments) {
          time.push(day.opensAt + minute * MINUTE + Math.floor(moment * 60_000) * 1000); // whole milliseconds
          price.push(this.priceAt(index, minute + moment, 0.00006));
          size.push(random.size());
        }
      }
    });
    return { time: Float64Array.from(time), price: Float64Array.from(price), size: Float64Array.from(size) };
  }

  minuteRecords(): Columns {
    const rows: number[][] = [];
    this.days.forEach((day, index) => {
      for (let minute = 0; day.opensAt + minute * MINUTE < day.closesAt; minute++) {
        const trades = this.random.poisson(this.instrument.pace * paceAt(minute));
        if (trades === 0) continue; // a minute without trade has no record
        const prices = Array.from({ length: 4 }, (_, i) => this.priceAt(index, minute + i / 3.001, 0.0001));
        rows.push([day.opensAt + minute * MINUTE, ...candle(prices), this.volumeOf(trades), trades]);
      }
    });
    return columnsOf(rows);
  }

  dailyRecords(): Columns {
    const past = tradingDays(DAILY_FROM, MINUTES_FROM).slice(0, -1);
    const path = this.instrument.path({ count: past.length, aDay: 1 }, this.random);
    const toLevel = Math.log(this.instrument.level) - path[past.length];
    const rows = past.map((day, index) => {
      const [from, to] = [path[index] + toLevel, path[index + 1] + toLevel];
      const spread = 0.003 + Math.abs(to - from) * 0.4;
      const prices = [from, from + spread * this.random.normal(), to + spread * this.random.normal(), to].map((log) =>
        cents(Math.exp(log)),
      );
      return this.dayRow(day, prices);
    });
    this.days.forEach((day, index) => {
      const prices = Array.from({ length: SESSION_MINUTES / 10 + 1 }, (_, i) =>
        this.priceAt(index, Math.min(SESSION_MINUTES - 0.001, i * 10), 0),
      );
      rows.push(this.dayRow(day, prices));
    });
    return columnsOf(rows);
  }

  private dayRow(day: TradingDay, prices: number[]): number[] {
    const trades = this.random.poisson(30) * 16 * this.instrument.pace;
    return [day.opensAt, ...candle(prices), this.volumeOf(trades), trades];
  }

  private volumeOf(trades: number): number {
    return Math.max(1, Math.round(trades * 16 * Math.exp(0.2 * this.random.normal())));
  }

  /** Price at a minute of a day, with the jitter of single trades about it. */
  private priceAt(dayIndex: number, minute: number, jitter: number): number {
    const node = dayIndex * SESSION_MINUTES + Math.floor(minute);
    const share = minute - Math.floor(minute);
    const log = this.minutes[node] * (1 - share) + this.minutes[node + 1] * share;
    return cents(this.instrument.level * Math.exp(log + jitter * this.random.normal()));
  }
}

/** Busy after the opening and before the close, quiet at noon; 1 on average. */
function paceAt(minute: number): number {
  const fromNoon = minute / (SESSION_MINUTES / 2) - 1;
  return 0.6 + 1.2 * fromNoon * fromNoon;
}

const candle = (prices: number[]): number[] => [
  prices[0],
  Math.max(...prices),
  Math.min(...prices),
  prices[prices.length - 1],
];

function columnsOf(rows: number[][]): Columns {
  const names = ['time', 'open', 'high', 'low', 'close', 'volume', 'trades'];
  return Object.fromEntries(names.map((name, at) => [name, Float64Array.from(rows, (row) => row[at])])) as Columns;
}
