import { firstFrom } from '../numeric/search.js';
import type { Instant } from '../time/instant.js';
import { BarAssembler } from './barAssembler.js';
import type { BuiltBars } from './bars.js';
import type { BlockBuilder } from './blockBuilder.js';
import type { BuildCourse } from './buildCourse.js';
import type { Records } from './records.js';
import type { TimeIntervals } from './timeIntervals.js';

/** Bars by clock and calendar. */
export class TimeBarBuilder implements BlockBuilder {
  private readonly assembler: BarAssembler;
  private rows = 0;
  private leftOut = 0;
  private start: Instant = NaN;
  private coveredFrom: Instant = NaN;
  private coveredTo: Instant = NaN;

  constructor(
    private readonly intervals: TimeIntervals,
    course?: BuildCourse,
  ) {
    this.assembler = new BarAssembler(course);
  }

  add(records: Records): void {
    const { time, end } = records;
    const { intervals, assembler } = this;
    const rows = time.length;
    for (let row = 0; row < rows;) {
      if (!intervals.seek(time[row])) {
        const next = firstFrom(time, intervals.outsideUntil, row);
        this.leftOut += next - row;
        row = next;
        continue;
      }
      if (intervals.start !== this.start) {
        this.start = intervals.start;
        assembler.begin(intervals.start, intervals.end, this.rows + row);
      }
      const next = firstFrom(time, intervals.until, row);
      assembler.add(records, row, next, this.rows);
      row = next;
    }
    if (this.rows === 0) this.coveredFrom = time[0];
    this.coveredTo = (end ?? time)[rows - 1];
    this.rows += rows;
  }

  get bars(): number {
    return this.assembler.bars;
  }

  barsFrom(first: number): BuiltBars {
    const bars = this.assembler.barsFrom(first, this.leftOut);
    const last = bars.time.length - 1;
    if (last >= 0) {
      if (bars.end[last] > this.coveredTo) bars.complete[last] = 0;
      if (first === 0 && bars.time[0] < this.coveredFrom) bars.complete[0] = 0;
    }
    return bars;
  }
}
