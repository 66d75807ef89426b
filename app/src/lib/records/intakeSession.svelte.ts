import { enterTapes, appendToTape, fetchProgress, keepProfile, previewReading } from '$lib/api/client';
import type { Treatment } from '@jaunty-ledger/files/checks/checks';
import { Refusal, type Problem } from '$lib/api/problems';
import { randomId } from '$lib/api/randomId';
import { choicesOf, type Reading } from '@jaunty-ledger/files/reading/reading';
import type { ReadingPreview } from '@jaunty-ledger/files/reading/preview';
import type { MarketCalendar } from '$lib/api/calendars';
import type { SharedTimes, Tape } from '$lib/api/tapes';
import { z } from 'zod';
import { keepText, parsedJson } from '$lib/api/browserStorage';
import { fileEnds } from './fileEnds';
import { nameFor } from './shelfModel';

/** Bytes of the beginning of a file that a reading is proposed from. */
const HEAD_BYTES = 192 << 10;
/** A file whose columns, or whose items across, are not all told at its beginning is sent whole up to this size. */
const WHOLE_BYTES = 6 << 20;
const PREVIEW_AFTER_MS = 150;
const ZONES_KEY = 'jaunty-zones';
const MOST_ZONES = 100;
const PROGRESS_EVERY_MS = 250;

interface Progress {
  rows: number;
  bytes: number;
  rowsPerSecond: number;
  secondsLeft: number;
}

/** One file on its way in: how it is read, what is chosen, how far it has come. */
export class IntakeSession {
  name = $state('');
  zone = $state('UTC');
  session = $state('');
  weekdays = $state('');
  closed = $state('');
  unit = $state('');
  /** The kept calendar that it goes by; hours of its own where it is empty. */
  calendar = $state('');
  /** The tape that the records are added to; a new one where it is empty. */
  appendTo = $state('');
  preview = $state.raw<ReadingPreview>();
  problem = $state.raw<Problem>();
  progress = $state.raw<Progress>();
  /** What a bar is where rows share a time, as it was chosen; what suits the file where it is empty. */
  private sharedTimesChosen = $state<SharedTimes>();
  treatments = $state<Partial<Record<string, Treatment>>>({});
  isEntering = $state(false);
  profileKept = $state('');

  /** Whether the zone is one that was chosen here, or kept from a file of the same shape. */
  /** The zone that the last preview was made with. */
  private lookedZone = '';
  private isZoneSettled = false;
  private choices: Record<string, string> = {};
  private head = '';
  private tail = '';
  private timer: ReturnType<typeof setTimeout> | undefined;
  private looking: Promise<boolean> | undefined;
  private abort: AbortController | undefined;
  private asked = 0;

  constructor(
    readonly file: File,
    shelf: readonly string[],
  ) {
    this.name = nameFor(file.name, shelf);
    void this.load();
  }

  /** Rows of the sample that share their time with an earlier one and differ from it. */
  get sharedRows(): number {
    const { preview } = this;
    if (preview?.reading.kind !== 'series') return 0;
    return preview.findings.find(({ id }) => id === 'same-instant')?.count ?? 0;
  }

  /** What a bar is where rows share a time: amounts of a date add up. */
  get sharedTimes(): SharedTimes {
    return this.sharedTimesChosen ?? (this.preview?.precision === 'moment' ? 'last' : 'sum');
  }
  set sharedTimes(chosen: SharedTimes) {
    this.sharedTimesChosen = chosen;
  }

  /** Whether the tapes of the file are named after its columns, not after instruments that it names. */
  get isNamedByColumn(): boolean {
    return !this.preview?.reading.columns.some(({ role }) => role === 'instrument');
  }

  /** Reads the file another way, at once: everything that is not chosen is proposed anew. */
  choose(change: Partial<Reading>): void {
    const all = choicesOf({ ...this.preview!.reading, ...change });
    // another delimiter, encoding or header makes other columns: their roles are proposed again
    const isOther = ['delimiter', 'header', 'encoding', 'kind', 'sheet', 'layout'].some((name) => name in change);
    if (isOther) delete this.choices.columns;
    for (const name of Object.keys(change)) this.choices[name] = all[name];
    this.lookSoon();
  }

  /** What one column is. A choice that was made a moment ago holds first: it may have changed what the others are. */
  async setColumn(index: number, column: Reading['columns'][number]): Promise<void> {
    if (!(await this.settled())) return;
    const columns = this.preview!.reading.columns.map((known, at) => (at === index ? column : known));
    this.choose({ columns });
  }

  /** Takes a zone for the times of the file, and for those of the next ones of its shape. */
  setZone(zone: string): void {
    this.zone = zone;
    this.isZoneSettled = true;
    this.lookSoon();
  }

  /** A zone is being typed: only one that there is, or what is left in the field, is looked at. */
  typeZone(isComplete: boolean): void {
    this.isZoneSettled = true;
    if (isComplete && this.zone !== this.lookedZone) this.lookSoon();
  }

  /** Takes the hours and days of a kept calendar; or gives it up, and keeps them as its own. */
  setCalendar(calendar: MarketCalendar | undefined): void {
    this.calendar = calendar?.name ?? '';
    if (!calendar) return;
    const { zone, session, weekdays, closed } = calendar;
    this.session = session ?? '';
    this.weekdays = weekdays?.join(',') ?? '';
    this.closed = closed?.join(',') ?? '';
    this.setZone(zone);
  }

  /** Takes hours and weekdays as the session. */
  setSession({ session, weekdays }: { session: string; weekdays: readonly string[] }): void {
    this.session = session;
    this.weekdays = weekdays.length < 7 ? weekdays.join(',') : '';
    this.lookSoon();
  }

  /** The zone or the session has changed: times are read anew. */
  lookSoon(): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.lookNow(), PREVIEW_AFTER_MS);
  }

  async enter(): Promise<Tape[]> {
    this.isEntering = true;
    this.abort = new AbortController();
    const id = randomId(32);
    const watching = setInterval(() => void this.watch(id), PROGRESS_EVERY_MS);
    try {
      if (!(await this.settled())) return [];
      this.problem = undefined;
      const { signal } = this.abort;
      if (this.appendTo) return [await appendToTape(fetch, this.appendTo, this.file, this.readingQuery(), id, signal)];
      const entered = await enterTapes(fetch, this.file, this.queryFor(this.name.trim()), id, signal);
      this.keepZone();
      return entered;
    } catch (error) {
      if (error instanceof Refusal) this.problem = error.problem;
      else if (!this.abort.signal.aborted) throw error;
      return [];
    } finally {
      clearInterval(watching);
      this.isEntering = false;
      this.progress = undefined;
    }
  }

  stop(): void {
    this.abort?.abort();
  }

  async keepReading(name: string): Promise<void> {
    if (!(await this.settled())) return;
    const { reading, shape } = this.preview!;
    await keepProfile(fetch, { name, shape, choices: choicesOf(reading) });
    this.profileKept = name;
  }

  private async load(): Promise<void> {
    const { file } = this;
    await this.take(/\.(parquet|arrow|feather|gz|zip|xlsx|xlsm)$/i.test(file.name) ? WHOLE_BYTES : HEAD_BYTES);
    await this.lookNow();
    const mayHaveMore = this.preview !== undefined && this.preview.reading.layout !== 'rows' && this.tail !== '';
    if (!mayHaveMore || file.size > WHOLE_BYTES) return;
    await this.take(WHOLE_BYTES);
    await this.lookNow();
  }

  /** Takes the beginning of the file, all of it where it is not longer, and else its end too. */
  private async take(mostBytes: number): Promise<void> {
    const { head, tail } = await fileEnds(this.file, HEAD_BYTES, mostBytes);
    this.head = head;
    this.tail = tail;
  }

  /** Waits until what was chosen a moment ago has been looked at; whether the file can be read so. */
  async settled(): Promise<boolean> {
    return (this.timer === undefined && this.looking) || this.lookNow();
  }

  private lookNow(): Promise<boolean> {
    clearTimeout(this.timer);
    this.timer = undefined;
    return (this.looking = this.look());
  }

  /** Gives false where the file cannot be read as chosen. */
  private async look(): Promise<boolean> {
    const asked = ++this.asked;
    this.lookedZone = this.zone;
    try {
      const { head, tail, choices, zone, session, weekdays, closed } = this;
      const hours = withoutEmpty({ session, weekdays, closed });
      const preview = await previewReading(fetch, { head, tail, choices, zone: zone.trim() || 'UTC', ...hours });
      if (asked !== this.asked) return true; // a later choice has been looked at by now
      this.preview = preview;
      this.problem = undefined;
      if (!this.isZoneSettled) this.takeKeptZone(preview.shape);
    } catch (error) {
      if (!(error instanceof Refusal)) {
        this.looking = undefined; // it was not looked at: the next time it is
        throw error;
      }
      if (asked === this.asked) this.problem = error.problem;
      return false;
    }
    return true;
  }

  /** The zone that the last file of the same shape was entered with. */
  private takeKeptZone(shape: string): void {
    this.isZoneSettled = true;
    const kept = keptZones()[shape];
    if (kept === undefined || kept === this.zone) return;
    this.zone = kept;
    this.lookSoon();
  }

  private keepZone(): void {
    if (!this.preview || typeof localStorage === 'undefined') return;
    const zones = Object.entries({ ...keptZones(), [this.preview.shape]: this.zone.trim() });
    keepText(localStorage, ZONES_KEY, JSON.stringify(Object.fromEntries(zones.slice(-MOST_ZONES))));
  }

  private async watch(id: string): Promise<void> {
    const now = await fetchProgress(fetch, id).catch(() => null);
    if (!now || !this.isEntering) return;
    const seconds = (Date.now() - now.startedAt) / 1000;
    const share = now.bytes / this.file.size;
    this.progress = {
      rows: now.rows,
      bytes: now.bytes,
      rowsPerSecond: now.rows / Math.max(seconds, 0.1),
      secondsLeft: share > 0 ? (seconds * (1 - share)) / share : NaN,
    };
  }

  private readingQuery(other?: OtherReading): Record<string, string> {
    const checks = Object.entries(this.treatments).map(([id, treatment]) => `${id}:${treatment}`);
    return {
      ...(this.preview && choicesOf(this.preview.reading)),
      ...(other && writtenAs(other)),
      ...(other && this.choices),
      ...(checks.length > 0 && { checks: checks.join(',') }),
    };
  }

  /**
   * Parameters of entering a file.
   * @param other  of another file that looks like this one: what its own beginning says of how it is written holds for it
   */
  queryFor(name: string, other?: OtherReading): Record<string, string> {
    return { ...this.calendarQuery(name), ...this.readingQuery(other) };
  }

  /** Parameters of entering a file that say nothing of how it is read. */
  calendarQuery(name: string): Record<string, string> {
    const { zone, session, weekdays, closed, unit, calendar } = this;
    return {
      name,
      ...(calendar ? { calendar } : { zone: zone.trim(), ...withoutEmpty({ session, weekdays, closed }) }),
      ...withoutEmpty({ unit }),
      ...(this.sharedRows > 0 && { sharedTimes: this.sharedTimes }),
    };
  }
}

/** How another file that looks alike is read by itself, and what its beginning leaves open. */
type OtherReading = Pick<ReadingPreview, 'reading' | 'open'>;

/** What of a reading is of the one file: where its table begins, and how its figures and dates are written. */
function writtenAs({ reading, open }: OtherReading): Record<string, string> {
  const { encoding, header, skip, under, decimal, dateOrder } = choicesOf(reading);
  return {
    ...{ encoding, header, skip, under },
    ...(!open.includes('decimal') && { decimal }),
    ...(!open.includes('dateOrder') && { dateOrder }),
  };
}

/** Zones by the shapes of files that were entered with them. */
function keptZones(): Record<string, string> {
  const text = typeof localStorage === 'undefined' ? null : localStorage.getItem(ZONES_KEY);
  return z.record(z.string(), z.string()).safeParse(parsedJson(text ?? '{}')).data ?? {};
}

const withoutEmpty = (fields: Record<string, string>): Record<string, string> =>
  Object.fromEntries(
    Object.entries(fields)
      .map(([name, text]) => [name, text.trim()])
      .filter(([, text]) => text !== ''),
  );
