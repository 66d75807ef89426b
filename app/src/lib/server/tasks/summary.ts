import { GrowingColumn, hourOfDay, makeCalendar, SessionSeeker } from '@jaunty-ledger/core';
import { calendarOptions } from '$lib/api/tapes';
import type { ColumnSummary, TapeSummary } from '$lib/api/summary';
import type { RecordColumns } from '@jaunty-ledger/files/records/recordColumns';
import type { StoredTape } from '../store/tapeRows';
import { recordsBetween } from './tapeRecords';
import { WHOLE } from './range';
import type { TaskKind } from './taskKind';

/** Values beyond this many are sampled evenly for quartiles: to keep and sort more takes longer than one looks. */
const QUARTILE_SAMPLE = 8_000_000;
/** Gaps between records that tell how often they come. */
const GAP_SAMPLE = 100_000;

/** Figures of a tape's columns, as JSON. */
export const summary: TaskKind<{ tape: StoredTape }> = {
  records: ({ tape }) => 4 * tape.rows,
  run: async ({ tape }, { store, course }) => {
    const blocks = recordsBetween(store, tape, WHOLE, { without: ['line', 'flags'], course });
    return new TextEncoder().encode(JSON.stringify(await summaryOf(tape, blocks)));
  },
};

/** Figures of every column, words with their counts, and records by the hour of the market's clock. */
export async function summaryOf(tape: StoredTape, blocks: AsyncIterable<RecordColumns>): Promise<TapeSummary> {
  const { zone } = makeCalendar(calendarOptions(tape));
  const figures = tape.columns
    .filter((name) => name !== 'time' && name !== 'line' && name !== 'flags')
    .map((name) => ({ name, column: name }))
    .concat(tape.numbers)
    .map(({ name, column }) => ({ name, column, figure: new Figures(tape.rows) }));
  const texts = tape.texts.map((text) => ({ ...text, counts: new Array<number>(text.words.length).fill(0) }));
  const hours = new Array<number>(24).fill(0);
  const seeker = new SessionSeeker();
  const gaps = new GrowingColumn();
  let previous = NaN;
  for await (const columns of blocks) {
    for (const { column, figure } of figures) figure.add(columns[column]);
    for (const { column, counts } of texts) for (const code of columns[column]) counts[code]++;
    for (const at of columns.time) {
      const wall = zone.wallAt(at);
      hours[hourOfDay(wall)]++;
      seeker.add(wall);
      if (at > previous && gaps.length < GAP_SAMPLE) gaps.push(at - previous);
      previous = at;
    }
  }
  const hasClock = tape.precision === 'moment';
  const sortedGaps = gaps.toArray().sort();
  return {
    usualGapSeconds: sortedGaps.length > 0 ? sortedGaps[sortedGaps.length >> 1] / 1e6 : null,
    columns: figures.map(({ name, figure }) => figure.summary(name)),
    words: texts.map(({ name, words, counts }) => ({
      name,
      words: words
        .map((word, code) => ({ word, count: counts[code] }))
        .sort((a, b) => b.count - a.count)
        .slice(0, 50),
    })),
    // what has no time of day has no hours
    hours: hasClock ? hours : [],
    session: (hasClock && tape.session === null && seeker.guess()) || null,
  };
}

/** Count, mean and deviation by Welford's updates, extremes, and a sample for quartiles. */
class Figures {
  private count = 0;
  private missing = 0;
  private mean = 0;
  private squares = 0;
  private least = Infinity;
  private greatest = -Infinity;
  private readonly sample = new GrowingColumn();
  private readonly step: number;
  private row = 0;

  constructor(rows: number) {
    this.step = Math.max(1, Math.ceil(rows / QUARTILE_SAMPLE));
  }

  add(column: Float64Array): void {
    for (const value of column) {
      if (Number.isNaN(value)) {
        this.missing++;
        continue;
      }
      this.count++;
      const apart = value - this.mean;
      this.mean += apart / this.count;
      this.squares += apart * (value - this.mean);
      if (value < this.least) this.least = value;
      if (value > this.greatest) this.greatest = value;
      if (this.row++ % this.step === 0) this.sample.push(value);
    }
  }

  summary(name: string): ColumnSummary {
    const { count, missing, mean, squares, least, greatest } = this;
    const sorted = this.sample.toArray().sort();
    const quantile = (p: number) => {
      const at = p * (sorted.length - 1);
      const low = Math.floor(at);
      return sorted[low] + (at - low) * ((sorted[low + 1] ?? sorted[low]) - sorted[low]);
    };
    if (count === 0)
      return { name, count, missing, mean: null, stdev: null, min: null, q1: null, median: null, q3: null, max: null };
    const stdev = count > 1 ? Math.sqrt(squares / (count - 1)) : null;
    return {
      name,
      count,
      missing,
      mean,
      stdev,
      min: least,
      q1: quantile(0.25),
      median: quantile(0.5),
      q3: quantile(0.75),
      max: greatest,
    };
  }
}
