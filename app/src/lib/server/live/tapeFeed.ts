import { decimalsOf, makeCalendar, MOST_DECIMALS, rfc3339, usualDecimals } from '@jaunty-ledger/core';
import { BY_CALENDAR, CHECKS, type CheckId, type Treatments } from '@jaunty-ledger/files/checks/checks';
import { Findings } from '@jaunty-ledger/files/checks/findings';
import { RecordChecks } from '@jaunty-ledger/files/checks/recordChecks';
import type { RecordColumns } from '@jaunty-ledger/files/records/recordColumns';
import { priceColumnOf, sizeColumnOf } from '@jaunty-ledger/files/records/recordReader';
import type { TextColumn } from '@jaunty-ledger/files/records/textColumns';
import { SPARK_POINTS } from '@jaunty-ledger/files/records/recordWriter';
import { refuse } from '$lib/api/problems';
import { calendarOptions } from '$lib/api/tapes';
import { CHUNK_ROWS, encodeChunk } from '../chunks/tapeChunk';
import { log } from '../log';
import { chunksBetween, partsBetween, recordsIn } from '../store/chunks';
import { lastSequences, noteSender } from '../store/feedSenders';
import { addPart, GenerationWriter } from '../store/generations';
import type { TapePart } from '../store/partRows';
import type { Store } from '../store/store';
import { countParts, feedTape, replaceRecords, tapeOfId, type Fed } from '../store/tapes';
import type { StoredTape } from '../store/tapeRows';
import {
  inOrder,
  merged,
  pickedRecords,
  RecordGatherer,
  rowsOfRecords,
  storedNames,
  type SentRecords,
} from './feedRecords';

/** Records wait so long for others to be written with: a write costs as much for one as for a thousand. */
const GATHERED_MS = 50;
/** So many are written at once, however short they have waited. */
const GATHERED_ROWS = 20_000;
/** So many small parts are put together to one. */
const SMALL_PARTS = 48;
/** A write is made anew where somebody else has changed the tape meanwhile. */
const MOST_ATTEMPTS = 20;
/** What a record that is fed is checked for: what it shows by itself. Its neighbours may still come. */
const CHECKED: ReadonlySet<CheckId> = new Set([...BY_CALENDAR, 'range', 'crossed']);

/** What became of records that were sent together. */
interface Entered {
  /** Those that are safe now, and those that were before. */
  records: number;
  repeated: number;
  /** The number of the sender's last record that is safe. */
  sequence: number | null;
  /** Those that were earlier than what the tape had, and the first of them. */
  late: { records: number; from: string } | undefined;
}

/** A change of a tape by what was fed. */
export interface FedChange {
  before: StoredTape;
  after: StoredTape;
  /** The records, in order of time. */
  records: RecordColumns;
  /** The earliest of them, where it is not behind all others; bars from there on are other ones. */
  lateFrom: number | undefined;
}

/** Records that one sender sends one after the other. */
interface SenderLine {
  sender: string;
  /** Why some of them could not be entered: none that come behind them are. */
  broken?: { error: unknown };
}

interface Waiting {
  line: SenderLine;
  sent: SentRecords;
  safe: (entered: Entered) => void;
  failed: (error: unknown) => void;
}

/** Takes records in for one tape, from any number of senders, and writes those that come about the same time at once. */
export class TapeFeed {
  private waiting: Waiting[] = [];
  private waitingRows = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private writing: Promise<void> = Promise.resolve();
  private isHeld = false;
  private smallParts = 0;
  private texts: { text: TextColumn; places: Map<string, number> }[];

  /** @param changed  told of each change once it is safe */
  constructor(
    private readonly store: Store,
    private readonly tape: StoredTape,
    private readonly mostWords: number,
    private readonly changed: (change: FedChange) => void,
  ) {
    this.texts = tape.texts.map(withPlaces);
  }

  /** The place of a word among those of a text column. @throws {Refusal} where there are too many */
  readonly codeOf = (name: string, word: string): number => {
    const { text, places } = this.texts.find((one) => one.text.name === name)!;
    const known = places.get(word);
    if (known !== undefined) return known;
    if (text.words.length >= this.mostWords)
      throw refuse(
        'too-many-words',
        `The column ${name} would have more than ${this.mostWords.toLocaleString('en')} different words.`,
      );
    places.set(word, text.words.push(word) - 1);
    return text.words.length - 1;
  };

  /** How far a sender has come before. */
  async sequenceOf(sender: string): Promise<number> {
    return (await this.store.read((rows) => lastSequences(rows, this.tape.id, [sender]))).get(sender)!;
  }

  /**
   * Takes what one sender sends over one connection. What it gives enters records, and comes back once they are safe. Where some
   * cannot be entered it throws a {@link Refusal}, and does so for all that are put in after them, whether these could be or
   * not: the number of a sender's last safe record says that all before it are safe.
   */
  open(sender: string): (sent: SentRecords) => Promise<Entered> {
    const line: SenderLine = { sender };
    return (sent) => this.put(line, sent);
  }

  private put(line: SenderLine, sent: SentRecords): Promise<Entered> {
    return new Promise((safe, failed) => {
      if (line.broken) return failed(line.broken.error);
      this.waiting.push({ line, sent, safe, failed });
      this.waitingRows += sent.rows;
      if (this.waitingRows >= GATHERED_ROWS) this.write();
      else this.timer ??= setTimeout(() => this.write(), GATHERED_MS);
    });
  }

  /** Lets others change the tape: what is sent waits until it is let go. */
  async hold(): Promise<void> {
    this.isHeld = true;
    await this.writing;
  }

  letGo(): void {
    this.isHeld = false;
    if (this.waiting.length > 0) this.write();
  }

  private write(): void {
    clearTimeout(this.timer);
    this.timer = undefined;
    if (this.isHeld) return;
    this.writing = this.writing.then(async () => {
      const { waiting } = this;
      if (waiting.length === 0 || this.isHeld) return;
      this.waiting = [];
      this.waitingRows = 0;
      try {
        await this.enter(waiting);
      } catch (error) {
        for (const { line } of waiting) line.broken ??= { error };
        const behind = this.waiting.filter(({ line }) => line.broken);
        this.waiting = this.waiting.filter(({ line }) => !line.broken);
        this.waitingRows = this.waiting.reduce((sum, { sent }) => sum + sent.rows, 0);
        for (const { failed } of [...waiting, ...behind]) failed(error);
      }
    });
  }

  private async enter(waiting: readonly Waiting[]): Promise<void> {
    for (let attempt = 0; attempt < MOST_ATTEMPTS; attempt++) {
      const outcome = await this.attempt(waiting);
      if (!outcome) continue;
      if (outcome.change) this.changed(outcome.change);
      waiting.forEach(({ safe }, at) => safe(outcome.entered[at]));
      if (this.smallParts >= SMALL_PARTS)
        await this.fold().catch((error: unknown) => {
          // the records are safe as they are; the next write tries again
          log.warn({ err: error, tape: this.tape.name }, 'small parts could not be put together');
        });
      return;
    }
    throw refuse(
      'tape-changed',
      `${this.tape.name} is being changed elsewhere again and again. Send the records again.`,
    );
  }

  /** Writes what has come; undefined where the tape was changed by somebody else in between. */
  private async attempt(waiting: readonly Waiting[]): Promise<{ entered: Entered[]; change?: FedChange } | undefined> {
    const { store } = this;
    const senders = [...new Set(waiting.map(({ line }) => line.sender))].filter((sender) => sender !== '');
    const [tape, last] = await store.read(async (rows) => [
      await tapeOfId(rows, this.tape.id),
      await lastSequences(rows, this.tape.id, senders),
    ]);
    if (!tape) throw refuse('unknown-tape', `${this.tape.name} was deleted meanwhile.`);
    this.takeWords(tape);
    const gathered = new RecordGatherer(storedNames(tape));
    const entered = waiting.map(({ line: { sender }, sent }): Entered => {
      const fresh = freshRows(sent, sender === '' ? undefined : last.get(sender)!);
      gathered.append(fresh.columns);
      if (sender !== '' && sent.sequences) last.set(sender, fresh.last);
      const { time } = fresh.columns;
      const late = time.filter((at) => at < tape.lastAt);
      return {
        records: time.length,
        repeated: sent.rows - time.length,
        sequence: sender !== '' && sent.sequences ? fresh.last : null,
        late:
          late.length > 0 ? { records: late.length, from: rfc3339(late.reduce((a, b) => Math.min(a, b))) } : undefined,
      };
    });
    if (gathered.rows === 0) return { entered };
    const records = inOrder(gathered.take());
    const flagged = flag(tape, records);
    const lateFrom = records.time[0] < tape.lastAt ? records.time[0] : undefined;
    const now = Date.now() * 1000;
    const generation = lateFrom !== undefined || tape.parts === null ? new GenerationWriter(store, now) : undefined;
    try {
      if (generation) await this.writeMerged(tape, records, generation);
      const after = await store.write(async (rows) => {
        const before = await tapeOfId(rows, tape.id);
        if (before?.version !== tape.version || before.generationId !== tape.generationId) return undefined;
        let parts = generation?.count;
        if (generation) await replaceRecords(rows, tape, generation.id, now);
        else {
          parts = tape.parts! + 1;
          await addPart(rows, tape.generationId, tape.parts!, encodeChunk(records, priceColumnOf(tape.kind)));
        }
        await feedTape(rows, tape, this.fed(tape, records, flagged, parts!));
        for (const sender of senders) {
          const own = waiting.flatMap((one, at) => (one.line.sender === sender ? [entered[at]] : []));
          const count = own.reduce((sum, { records }) => sum + records, 0);
          if (count > 0)
            await noteSender(rows, tape.id, sender, { lastSequence: last.get(sender)!, records: count, at: now });
        }
        return tapeOfId(rows, tape.id);
      });
      if (!after) {
        await generation?.discard();
        return undefined;
      }
      this.smallParts++;
      return { entered, change: { before: tape, after, records, lateFrom } };
    } catch (error) {
      await generation?.discard();
      throw error;
    }
  }

  /** Words that the tape has got elsewhere; ours that are not written yet come after them. */
  private takeWords(tape: StoredTape): void {
    for (const one of this.texts) {
      const stored = tape.texts.find(({ name }) => name === one.text.name)?.words ?? [];
      const { words } = one.text;
      if (stored.slice(0, words.length).some((word, at) => words[at] !== word))
        throw refuse('tape-changed', `${tape.name} has changed its text columns. Restart the feed.`);
      for (const word of stored.slice(words.length)) one.places.set(word, words.push(word) - 1);
    }
  }

  private fed(tape: StoredTape, { time, ...columns }: RecordColumns, flagged: number, parts: number): Fed {
    const price = columns[priceColumnOf(tape.kind)];
    const rows = tape.rows + time.length;
    return {
      rows,
      flagged: tape.flagged + flagged,
      firstAt: Math.min(tape.firstAt, time[0]),
      lastAt: Math.max(tape.lastAt, time[time.length - 1]),
      priceDecimals: decimalsWith(price, tape.priceDecimals),
      sizeDecimals: decimalsWith(columns[sizeColumnOf(tape.kind)] ?? new Float64Array(0), tape.sizeDecimals),
      spark: sparkOf(tape, rows, price[price.length - 1]),
      texts: this.texts.map(({ text }) => ({ ...text, words: [...text.words] })),
      parts,
    };
  }

  /** A generation with some records among those of the tape. Parts that none of them falls in stay as they are. */
  private async writeMerged(tape: StoredTape, fresh: RecordColumns, generation: GenerationWriter): Promise<void> {
    const parts = await this.store.read((rows) => partsBetween(rows, tape, -Infinity, Infinity));
    let from = 0;
    for (const part of parts) {
      let to = from;
      while (to < fresh.time.length && fresh.time[to] < part.lastAt) to++;
      if (to === from) await generation.keep(part);
      else
        await addRecords(generation, tape, merged(await this.recordsOf(tape, [part]), rowsOfRecords(fresh, from, to)));
      from = to;
    }
    if (from < fresh.time.length) await addRecords(generation, tape, rowsOfRecords(fresh, from, fresh.time.length));
    await generation.finish();
  }

  private async recordsOf(tape: StoredTape, parts: readonly TapePart[]): Promise<RecordColumns> {
    const gathered = new RecordGatherer(storedNames(tape));
    const [first, last] = [parts[0].sequence, parts[parts.length - 1].sequence];
    for await (const chunk of chunksBetween(this.store, tape, -Infinity, Infinity, first)) {
      if (chunk.sequence > last) break;
      gathered.append(recordsIn(tape, chunk));
    }
    return gathered.take();
  }

  /** Puts the small parts at the end of the tape together. Its records stay what they are, and so does its version. */
  private async fold(): Promise<void> {
    const now = Date.now() * 1000;
    const { store } = this;
    const tape = await store.read((rows) => tapeOfId(rows, this.tape.id));
    if (!tape) return;
    const parts = await store.read((rows) => partsBetween(rows, tape, -Infinity, Infinity));
    const small = smallEnd(parts);
    this.smallParts = 0;
    if (small < 2) return;
    const generation = new GenerationWriter(store, now);
    try {
      for (const part of parts.slice(0, -small)) await generation.keep(part);
      await addRecords(generation, tape, await this.recordsOf(tape, parts.slice(-small)));
      await generation.finish();
      const isEntered = await store.write(async (rows) => {
        const before = await tapeOfId(rows, tape.id);
        if (before?.version !== tape.version) return false;
        await replaceRecords(rows, tape, generation.id, now);
        await countParts(rows, tape, generation.count);
        return true;
      });
      if (!isEntered) await generation.discard();
    } catch (error) {
      await generation.discard();
      throw error;
    }
  }
}

/** Decimals that write some more values of a column too. */
const decimalsWith = (values: Float64Array, known: number): number =>
  Math.max(known, usualDecimals(values, Math.min(MOST_DECIMALS, decimalsOf(values, known))));

const withPlaces = (text: TextColumn) => ({
  text: { ...text, words: [...text.words] },
  places: new Map(text.words.map((word, at) => [word, at])),
});

/** The records that a sender has not sent before, and the number of the last of them. */
function freshRows(
  { columns, sequences, rows }: SentRecords,
  last: number | undefined,
): { columns: RecordColumns; last: number } {
  if (!sequences || last === undefined) return { columns, last: -1 };
  const kept: number[] = [];
  let reached = last;
  for (let row = 0; row < rows; row++) {
    // one without a number is a record of its own
    if (sequences[row] <= reached) continue;
    if (sequences[row] > reached) reached = sequences[row];
    kept.push(row);
  }
  return { columns: kept.length === rows ? columns : pickedRecords(columns, Uint32Array.from(kept)), last: reached };
}

/** Sets the flags of records by what the tape does with what is found; gives how many have one. */
function flag(tape: StoredTape, records: RecordColumns): number {
  const treatments: Treatments = Object.fromEntries(
    CHECKS.map(({ id }) => {
      const chosen = tape.report.findings.find((finding) => finding.id === id)?.treatment;
      return [id, CHECKED.has(id) && chosen !== 'keep' ? 'flag' : 'keep'];
    }),
  );
  new RecordChecks(tape.kind, makeCalendar(calendarOptions(tape)), new Findings(treatments), Infinity).check(
    records,
    records.time.length,
  );
  return records.flags.reduce((count, flags) => count + (flags === 0 ? 0 : 1), 0);
}

async function addRecords(generation: GenerationWriter, { kind }: StoredTape, records: RecordColumns): Promise<void> {
  const rows = records.time.length;
  for (let from = 0; from < rows; from += CHUNK_ROWS)
    await generation.add(
      encodeChunk(rowsOfRecords(records, from, Math.min(rows, from + CHUNK_ROWS)), priceColumnOf(kind)),
    );
}

/**
 * How many parts at the end of a tape are put together: the newest, and those before them as long as they are not much larger
 * than what is put together. So each record is written a few times, however long the tape is.
 */
function smallEnd(parts: readonly TapePart[]): number {
  let rows = 0;
  let count = 0;
  for (const part of [...parts].reverse()) {
    const isSmall = part.rows < CHUNK_ROWS / 2;
    if (!isSmall || (count >= SMALL_PARTS && part.rows > 2 * rows) || rows + part.rows > 4 * CHUNK_ROWS) break;
    rows += part.rows;
    count++;
  }
  return count;
}

/** The small picture, with the newest price at its end; a point is added with each sixtieth part of the records. */
function sparkOf({ spark, rows: before }: StoredTape, rows: number, last: number): number[] {
  if (spark.length === 0) return [last];
  const pointOf = (count: number) => Math.floor((count * SPARK_POINTS) / Math.max(before, SPARK_POINTS));
  const next =
    spark.length < SPARK_POINTS || pointOf(rows) > pointOf(before) ? [...spark, last] : [...spark.slice(0, -1), last];
  return next.slice(-SPARK_POINTS);
}
