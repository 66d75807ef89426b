import {
  BAR_FIELDS,
  BarRows,
  BuildCourse,
  coveringRange,
  FormulaError,
  frameOf,
  LiveBars,
  LiveColumns,
  makeCalendar,
  namesOf,
  parseBarRule,
  printBarRule,
  rfc3339,
  TooManyBarsError,
  type BarRule,
  type Calendar,
  type LiveColumn,
} from '@jaunty-ledger/core';
import type { RecordColumns } from '@jaunty-ledger/files/records/recordColumns';
import { refuse } from '$lib/api/problems';
import type { FollowedRows } from '$lib/api/live';
import { aliasesOf, calendarOptions } from '$lib/api/tapes';
import type { Limits } from '../limits';
import type { Store } from '../store/store';
import { chunksBetween, recordsIn } from '../store/chunks';
import { tapeOfId } from '../store/tapes';
import type { StoredTape } from '../store/tapeRows';
import { Course, SharedCourse } from '../tasks/course';
import { blockOf } from '../tasks/tapeBars';
import { WHOLE } from '../tasks/range';
import { recordsBetween, rowsWithin, withoutFlagged } from '../tasks/tapeRecords';
import { rowsOfRecords } from './feedRecords';
import type { FedChange } from './tapeFeed';

/** What is followed of a tape. */
export interface FollowChoice {
  rule: string;
  flagged: boolean;
  entries: string[];
}

/** Followers are told so often at most. */
const TOLD_EVERY_MS = 100;
/** More rows than this are not told at once: whoever follows asks for them as a table. */
const MOST_TOLD_ROWS = 20_000;
/** Before all versions that there are. */
const NO_VERSION = -1;
/** Entries are worked out so long at most: feeds wait meanwhile. */
const MOST_MS = 5000;
/** Changes that are known of, for whoever comes back. */
const KEPT_CHANGES = 10_000;

/** Whether a tape has got further records at its end, and no bar before them may be another one. */
const isGrown = (before: StoredTape, now: StoredTape): boolean =>
  before.generationId === now.generationId &&
  before.parts !== null &&
  now.parts !== null &&
  now.parts > before.parts &&
  JSON.stringify(calendarOptions(before)) === JSON.stringify(calendarOptions(now));

/** Told what has changed, as JSON, and the version of the tape that it is of. */
type Told = (rows: string, version: number) => void;

/** The bars of a tape that is followed, and columns of entries over them, kept up to date for all who follow them alike. */
export class FollowedTape {
  private readonly rule: BarRule;
  private readonly rows = new BarRows();
  /** The tape as far as it has been read; what is told may be of a version before. */
  private tape: StoredTape;
  private shown: { version: number; records: number } | undefined;
  private calendar: Calendar;
  private live: LiveBars | undefined;
  /** The row that the live bars begin with. */
  private base = 0;
  private columns: LiveColumns | undefined;
  private found: readonly LiveColumn[] = [];
  /** What is wrong with the entries on these rows. */
  private trouble: string | undefined;
  private readonly followers = new Map<number, { told: Told; version: number | undefined }>();
  /** What was fed, by versions of the tape, with its earliest record. */
  private heard: { before: number; after: number; from: number }[] = [];
  /** Versions of the tape that followers may have, each with the first row that has changed since the one before. */
  private changes: { version: number; first: number }[] = [];
  /** What followers were told since the last change, by its first row: most are told the same. */
  private readonly texts = new Map<number, string>();
  private work: Promise<void> = Promise.resolve();
  private timer: ReturnType<typeof setTimeout> | undefined;
  private toldAt = -Infinity;

  constructor(
    private readonly store: Store,
    private readonly limits: Limits,
    tape: StoredTape,
    private readonly choice: FollowChoice,
    /** How many bars there is room for beside all else that is followed. */
    private readonly room: () => number,
    private readonly failed: (error: unknown) => void,
  ) {
    this.tape = tape;
    this.rule = parseBarRule(choice.rule);
    this.calendar = makeCalendar(calendarOptions(tape));
    this.then(() => this.rebuild());
  }

  get bars(): number {
    return this.rows.count;
  }

  get isFollowed(): boolean {
    return this.followers.size > 0;
  }

  /** @param version  of the tape whose rows a follower has; undefined for one that has none */
  follow(id: number, version: number | undefined, told: Told): void {
    this.followers.set(id, { told, version });
    this.then(async () => {
      const one = this.followers.get(id);
      if (!one) return;
      const now = await this.store.read((rows) => tapeOfId(rows, this.tape.id));
      // whoever has a version that there is not was looking at another tape of the name
      if (one.version !== undefined && one.version > (now?.version ?? -1)) one.version = NO_VERSION;
      this.tell(one);
    });
  }

  leave(id: number): void {
    this.followers.delete(id);
  }

  /** Takes in what was fed. */
  fed(change: FedChange): void {
    const { before, after, records, lateFrom } = change;
    this.heard.push({ before: before.version, after: after.version, from: records.time[0] });
    if (this.heard.length > KEPT_CHANGES) this.heard.splice(0, KEPT_CHANGES / 2);
    this.then(async () => {
      if (after.version <= this.tape.version) return;
      if (before.version !== this.tape.version || lateFrom !== undefined) return this.rebuild();
      this.add(records);
      this.tape = after;
      this.tellSoon();
    });
  }

  /** The earliest record that was fed from our version of the tape up to another; nothing where something else was changed. */
  private earliestUpTo(version: number): number {
    let reached = this.tape.version;
    let earliest = Infinity;
    for (const { before, after, from } of this.heard) {
      if (before !== reached || after > version) continue;
      reached = after;
      earliest = Math.min(earliest, from);
    }
    return reached === version && this.live ? earliest : -Infinity;
  }

  /** The tape has been changed by other means. */
  changedOtherwise(): void {
    this.heard = [];
    this.then(() => this.rebuild());
  }

  /** Another server may have changed the tape. @param version  that it has now */
  changedElsewhere(version: number): void {
    this.then(async () => {
      if (version <= this.tape.version) return;
      const now = await this.store.read((rows) => tapeOfId(rows, this.tape.id));
      if (now && isGrown(this.tape, now)) {
        for await (const chunk of chunksBetween(this.store, now, -Infinity, Infinity, this.tape.parts!))
          this.add(recordsIn(now, chunk));
        this.tape = now;
        return this.tellSoon();
      }
      this.heard = [];
      return this.rebuild();
    });
  }

  close(): void {
    clearTimeout(this.timer);
    this.followers.clear();
  }

  /** One thing after the other. */
  private then(work: () => Promise<void> | void): void {
    this.work = this.work.then(work).catch((error: unknown) => {
      this.failed(
        error instanceof TooManyBarsError
          ? refuse('too-many-bars', `\`${this.choice.rule}\`: ${error.message}.`)
          : error,
      );
      this.close();
    });
  }

  /** Reads the records anew that bars are made of from the first one on that has changed. */
  private async rebuild(): Promise<void> {
    const tape = await this.store.read((rows) => tapeOfId(rows, this.tape.id));
    if (!tape) throw refuse('unknown-tape', `${this.tape.name} was deleted.`);
    const from = this.earliestUpTo(tape.version);
    this.calendar = makeCalendar(calendarOptions(tape));
    const range = coveringRange(this.rule, this.calendar, { from, to: Infinity }) ?? WHOLE;
    this.base = this.rows.firstFrom(range.from);
    const course = new BuildCourse(Math.min(this.limits.bars, this.room() - this.base));
    this.live = new LiveBars(this.rule, this.calendar, course);
    this.tape = tape;
    const reading = new Course(new SharedCourse(), { milliseconds: Infinity, isLight: false });
    for await (const columns of recordsBetween(this.store, tape, range, { course: reading })) {
      const [first, end] = rowsWithin(columns.time, range);
      this.add(rowsOfRecords(columns, first, end));
    }
    this.tellSoon();
  }

  private add(records: RecordColumns): void {
    this.live!.add(blockOf(this.tape, this.choice.flagged ? records : withoutFlagged(records)));
  }

  private tellSoon(): void {
    const wait = this.toldAt + TOLD_EVERY_MS - performance.now();
    if (wait <= 0) this.bringUpToDate();
    else
      this.timer ??= setTimeout(() => {
        this.timer = undefined;
        this.then(() => this.bringUpToDate());
      }, wait);
  }

  /** Takes the bars and the columns over, and tells everybody. */
  private bringUpToDate(): void {
    this.toldAt = performance.now();
    this.texts.clear();
    const { first: offset, bars } = this.live!.changed();
    const first = this.base + offset;
    // the first bars that were made anew are no first ones of the tape
    if (offset === 0 && this.base > 0 && bars.complete.length > 0 && bars.end[0] <= this.tape.lastAt)
      bars.complete[0] = 1;
    const firstChanged = this.rows.put(first, bars);
    const changed = Math.min(firstChanged, this.advance(firstChanged));
    this.shown = { version: this.tape.version, records: this.tape.rows };
    this.changes.push({ version: this.tape.version, first: changed });
    if (this.changes.length > KEPT_CHANGES) this.changes.splice(0, KEPT_CHANGES / 2);
    for (const one of this.followers.values()) this.tell(one);
  }

  /** Brings the columns up to date; gives the first row on which one has changed. */
  private advance(first: number): number {
    const { entries } = this.choice;
    if (entries.length === 0) return Infinity;
    const { tape } = this;
    const words = new Map(tape.texts.map((text) => [text.name, text.words]));
    const frame = frameOf(this.rows.bars(), this.calendar, {
      ...{ rule: printBarRule(this.rule), tape: tape.name, words, aliases: aliasesOf(tape) },
    });
    try {
      this.columns ??= new LiveColumns(entries, namesOf(frame));
      const until = performance.now() + MOST_MS;
      const goOn = () => {
        if (performance.now() > until)
          throw refuse(
            'too-much-work',
            `The entries take longer than ${MOST_MS / 1000} seconds. Follow fewer of them.`,
          );
      };
      this.found = this.columns.advance(frame, first, { progress: goOn });
      this.trouble = undefined;
      return Math.min(...this.found.map(({ changedFrom }) => changedFrom));
    } catch (error) {
      if (!(error instanceof FormulaError)) throw error;
      if (!this.columns) throw error; // it can never be used
      this.found = [];
      this.trouble = error.message;
      return 0;
    }
  }

  /** Tells a follower the rows that are others than those it has. */
  private tell(one: { told: Told; version: number | undefined }): void {
    // a page may have what is not told yet
    if (!this.shown || (one.version ?? NO_VERSION) >= this.shown.version) return;
    const { version } = this.shown;
    const first = this.firstSince(one.version);
    one.version = version;
    let text = this.texts.get(first);
    if (text === undefined) this.texts.set(first, (text = JSON.stringify(this.toldFrom(first))));
    one.told(text, version);
  }

  private firstSince(version: number | undefined): number {
    if (version === undefined) return Math.max(0, this.rows.count - 1);
    if (this.changes[0].version > version) return 0;
    let first = this.rows.count;
    // the latest ones are at the end, and few have come since
    for (let at = this.changes.length - 1; this.changes[at].version > version; at--)
      first = Math.min(first, this.changes[at].first);
    return first;
  }

  private toldFrom(first: number): FollowedRows {
    const { count } = this.rows;
    const about = { ...this.shown!, rows: count, first };
    if (count - first > MOST_TOLD_ROWS) return { ...about, tooMany: true };
    const bars = this.rows.bars();
    const told = (column: Float64Array) =>
      Array.from(column.subarray(first), (value) => (value - value === 0 ? value : null));
    return {
      ...about,
      bars: {
        ...Object.fromEntries(BAR_FIELDS.map((name) => [name, told(bars[name])])),
        time: Array.from(bars.time.subarray(first), rfc3339),
        end: Array.from(bars.end.subarray(first), rfc3339),
        complete: Array.from(bars.complete.subarray(first)),
      },
      ...(bars.texts && {
        texts: Object.fromEntries(Object.entries(bars.texts).map(([name, column]) => [name, told(column)])),
      }),
      ...(bars.numbers && {
        numbers: Object.fromEntries(Object.entries(bars.numbers).map(([name, column]) => [name, told(column)])),
      }),
      entries: Object.fromEntries(this.found.map(({ name, values }) => [name, told(values)])),
      ...(this.trouble !== undefined && { trouble: this.trouble }),
    } as FollowedRows;
  }
}
