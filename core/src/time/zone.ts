import { Temporal } from 'temporal-polyfill';
import { ArgumentError } from '../arguments.js';
import { DAY, type Instant, type WallTime } from './instant.js';

/** What a wall time means in a zone: `skipped` never occurs, `repeated` occurs twice. */
export type WallKind = 'once' | 'skipped' | 'repeated';

/** A stretch of constant offset, from its first instant up to the next stretch. */
interface OffsetStretch {
  from: Instant;
  offset: number;
}

/**
 * The offsets of one IANA zone as a table of stretches. The calendar library is asked once a clock change, and only for
 * the years that occur; a row costs a comparison or a binary search.
 */
export class Zone {
  private stretches: OffsetStretch[] = [];
  private coveredTo = -Infinity;
  private coveredFrom = Infinity;
  private last = 0;

  /** @throws {ArgumentError} where no zone has the name */
  constructor(readonly name: string) {
    try {
      Temporal.Instant.fromEpochMilliseconds(0).toZonedDateTimeISO(name);
    } catch (cause) {
      if (!(cause instanceof RangeError)) throw cause;
      throw new ArgumentError('zone', 'the IANA name of a time zone, such as Atlantic/Faroe', `"${name}"`);
    }
  }

  /** Offset from UTC at an instant, in microseconds. */
  offsetAt(instant: Instant): number {
    const index = this.stretchAt(instant); // may widen the table, so it goes first
    return this.stretches[index].offset;
  }

  /** The wall clock at an instant. */
  wallAt(instant: Instant): WallTime {
    return instant + this.offsetAt(instant);
  }

  /** The first change of clocks after an instant; Infinity where none is to come. */
  changeAfter(instant: Instant): Instant {
    const index = this.stretchAt(instant);
    if (index + 1 < this.stretches.length) return this.stretches[index + 1].from;
    // the table ends a year past what was asked for: look beyond it once
    const next = zoned(instant, this.name).getTimeZoneTransition('next');
    return next ? micros(next) : Infinity;
  }

  /** The first instant at which the wall clock shows `wall` or later; of a repeated time the earlier pass. */
  instantOf(wall: WallTime): Instant {
    return this.resolve(wall).instant;
  }

  /** As `instantOf`, with the kind of wall time that it is. */
  resolve(wall: WallTime): { instant: Instant; kind: WallKind } {
    // offsets lie within a day, so the stretches around tell all passes
    this.widenTo(wall + DAY);
    this.widenTo(wall - DAY);
    const first = this.stretchAt(wall - DAY);
    const last = this.stretchAt(wall + DAY);
    const passes: Instant[] = [];
    let skippedAt = NaN;
    for (let i = first; i <= last; i++) {
      const { from, offset } = this.stretches[i];
      const to = this.stretches[i + 1]?.from ?? Infinity;
      const instant = wall - offset;
      if (instant >= from && instant < to) passes.push(instant);
      else if (Number.isNaN(skippedAt) && i > first && instant < from) skippedAt = from;
    }
    if (passes.length === 0) return { instant: skippedAt, kind: 'skipped' };
    return { instant: passes[0], kind: passes.length > 1 ? 'repeated' : 'once' };
  }

  private stretchAt(instant: Instant): number {
    this.widenTo(instant);
    const { stretches } = this;
    let index = this.last;
    if (stretches[index].from <= instant && !(stretches[index + 1]?.from <= instant)) return index;
    let low = 0;
    let high = stretches.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (stretches[middle].from <= instant) low = middle;
      else high = middle - 1;
    }
    index = low;
    this.last = index;
    return index;
  }

  /** Widens the table to the instant and two years around it, so that a walk along a tape asks seldom. */
  private widenTo(instant: Instant): void {
    if (instant >= this.coveredFrom && instant < this.coveredTo) return;
    const margin = 2 * 366 * DAY;
    this.coveredFrom = Math.min(this.coveredFrom, instant - margin);
    this.coveredTo = Math.max(this.coveredTo, instant + margin);
    this.stretches = [{ from: -Infinity, offset: offsetOf(zoned(this.coveredFrom, this.name)) }];
    let at: Temporal.ZonedDateTime | null = zoned(this.coveredFrom, this.name);
    while ((at = at.getTimeZoneTransition('next')) && micros(at) < this.coveredTo)
      this.stretches.push({ from: micros(at), offset: offsetOf(at) });
    this.last = 0;
  }
}

function zoned(instant: Instant, zone: string): Temporal.ZonedDateTime {
  return Temporal.Instant.fromEpochMilliseconds(Math.floor(instant / 1000)).toZonedDateTimeISO(zone);
}

const micros = (at: Temporal.ZonedDateTime): Instant => at.epochMilliseconds * 1000;
const offsetOf = (at: Temporal.ZonedDateTime): number => at.offsetNanoseconds / 1000;
