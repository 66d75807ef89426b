import {
  firstRowFrom,
  makeCalendar,
  parseBarRule,
  printBarRule,
  BarRuleError,
  type Calendar,
} from '@jaunty-ledger/core';
import { saveLedger } from '$lib/api/client';
import type { Ledger, LedgerBody, LedgerEntry } from '$lib/api/ledgers';
import { Refusal } from '$lib/api/problems';
import { calendarOptions, type Tape } from '$lib/api/tapes';
import { instantOf, rfc3339 } from '$lib/api/times';
import { dayStarts, type DayStarts } from '$lib/chart/turns';
import { clamped, rowsInView, wholeSpan, type ViewWindow } from '$lib/chart/viewWindow';
import { ComputeClient } from '$lib/compute/computeClient';
import type { DrawnBars } from '$lib/compute/protocol';
import { freeInk, laneFor, splitEntry, type Drawn, type Wrong } from './laneModel';
import { scrubbed, type Pace } from './scrub';

/** Bars of a first view: what a page shows without crowding. */
const FIRST_VIEW_ROWS = 140;
/** Changes that follow each other faster are saved as one. */
const SAVE_AFTER_MS = 400;

export type Saving = { state: 'saved'; at: string } | { state: 'waiting' } | { state: 'failed'; message: string };

/** What is wrong with something that was typed, and where in it. */
export interface Complaint {
  message: string;
  position: number;
  length: number;
}

/**
 * One ledger as it is worked on: what it says (`body`, which is saved), what the core made of it (`bars`, `results`), and
 * where one looks (`view`, `pointer`). The components draw it and call its methods; nobody else changes it.
 */
export class LedgerSession {
  body = $state() as LedgerBody;
  title = $state('');
  tape = $state.raw() as Tape;
  status = $state<'loading' | 'ready' | 'failed'>('loading');
  problem = $state('');
  bars = $state.raw<DrawnBars>();
  results = $state.raw<ReadonlyMap<string, Drawn | Wrong>>(new Map());
  view = $state.raw<ViewWindow>({ first: 0, count: 1 });
  /** The row under the pointer. */
  pointer = $state<number>();
  saving = $state<Saving>({ state: 'waiting' });
  calendar = $state.raw() as Calendar;
  days = $state.raw<DayStarts>({ rows: new Int32Array(0), dates: new Int32Array(0) });

  /** Share done of an evaluation that takes long. */
  progress = $state<number>();
  private readonly client = new ComputeClient((share) => (this.progress = share));
  private version: number;
  private saveTimer: ReturnType<typeof setTimeout> | undefined;
  private isSaving = false;
  /** Changes so far: what is saved is the latest only if none came while it was on its way. */
  private changes = 0;

  constructor(
    private readonly ledger: Ledger,
    readonly tapes: readonly Tape[],
  ) {
    this.body = ledger.body;
    this.title = ledger.title;
    this.version = ledger.version;
    this.saving = { state: 'saved', at: ledger.savedAt };
    void this.open();
  }

  get rows(): number {
    return this.bars?.time.length ?? 0;
  }

  /** The row whose figures the margin shows: under the pointer, else the last in view. */
  get figureRow(): number {
    return this.pointer ?? rowsInView(this.view, this.rows)[1] - 1;
  }

  close(): void {
    if (this.saving.state === 'waiting') void this.save();
    this.client.close();
  }

  /** Loads the bars that the body asks for, then its entries. */
  async open(): Promise<void> {
    const { tape: name, rule } = this.body;
    const tape = this.tapes.find((candidate) => candidate.name === name);
    if (!tape) return this.fail(`There is no tape ${name} on the shelf any more. Choose another one in the heading.`);
    this.tape = tape;
    this.status = this.bars ? this.status : 'loading';
    try {
      const options = calendarOptions(tape);
      const flagged = { shown: this.body.flagged, count: tape.flagged };
      const names = this.tapes.map((other) => other.name);
      const bars = await this.client.open(name, rule, flagged, options, names);
      if (this.body.rule !== rule || this.body.tape !== name) return; // another choice came in between
      this.calendar = makeCalendar(options);
      this.days = dayStarts(bars.time, this.calendar);
      this.results = new Map();
      this.bars = bars;
      this.pointer = undefined;
      this.view = this.savedView(bars.time);
      this.status = 'ready';
      await this.evaluate();
    } catch (error) {
      this.fail(error instanceof Refusal ? error.problem.detail : String(error));
    }
  }

  /** Another bar rule. @returns what is wrong with it, if anything is */
  setRule(text: string): Complaint | undefined {
    try {
      this.body.rule = printBarRule(parseBarRule(text));
    } catch (error) {
      if (!(error instanceof BarRuleError)) throw error;
      return { message: error.message, position: error.position, length: 1 };
    }
    this.changed();
    void this.open();
    return undefined;
  }

  setTape(name: string): void {
    this.body.tape = name;
    this.body.view = null;
    this.changed();
    void this.open();
  }

  /** Whether flagged records are in the bars. */
  setFlagged(shown: boolean): void {
    this.body.flagged = shown;
    this.changed();
    void this.open();
  }

  setTitle(title: string): void {
    this.title = title.trim() || this.title;
    this.changed();
  }

  /**
   * Adds what was typed into a lane's empty line. A formula that cannot be used is not added.
   * @returns what is wrong with it, if anything is
   */
  async addEntry(laneId: string, text: string): Promise<Complaint | undefined> {
    const id = crypto.randomUUID().slice(0, 8);
    const named = this.withName(text);
    const shift = named.length - text.length;
    const results = await this.client.evaluate([...this.entryTexts(), { id, text: named }]);
    const result = results?.find((candidate) => candidate.id === id);
    if (!result || result.state === 'same') return undefined;
    if (result.state === 'wrong') {
      const { message, position, length } = result;
      return { message, position: Math.max(0, position - shift), length };
    }
    const entry: LedgerEntry = { id, text: named, ink: freeInk(this.body), hidden: false };
    const lane = laneFor(this.body, laneId, result.unit);
    if (lane === undefined) this.body.lanes.push({ id: `lane-${id}`, base: 'none', weight: 1, entries: [entry] });
    else this.body.lanes.find((candidate) => candidate.id === lane)!.entries.push(entry);
    this.results = new Map([...this.results, [id, result]]);
    this.changed();
    return undefined;
  }

  /** Writes an entry anew. It is kept as typed; what is wrong with it stands beside it. */
  editEntry(id: string, text: string): void {
    const entry = this.entryOf(id);
    if (!entry || entry.text === text) return;
    entry.text = text;
    this.changed();
    void this.evaluate();
  }

  /** Turns one number of an entry by some steps; `start` is where it stands in the text. */
  scrubEntry(id: string, from: string, start: number, steps: number, pace: Pace): void {
    this.editEntry(id, scrubbed(from, start, steps, pace));
  }

  removeEntry(id: string): void {
    for (const lane of this.body.lanes) lane.entries = lane.entries.filter((entry) => entry.id !== id);
    // a lane that was made for an entry goes with its last one
    this.body.lanes = this.body.lanes.filter((lane) => lane.base !== 'none' || lane.entries.length > 0);
    this.changed();
    void this.evaluate();
  }

  toggleEntry(id: string): void {
    const entry = this.entryOf(id);
    if (!entry) return;
    entry.hidden = !entry.hidden;
    this.changed();
  }

  look(view: ViewWindow): void {
    this.view = clamped(view, this.rows);
    const { time, end } = this.bars!;
    const [from, to] = rowsInView(this.view, this.rows);
    const isWhole = this.view.count >= this.rows;
    this.body.view =
      isWhole || to <= from ? null : { from: rfc3339(time[from]), to: rfc3339(Math.max(end[to - 1], time[to - 1])) };
    this.changed();
  }

  lookAtAll(): void {
    this.look(wholeSpan(this.rows));
  }

  private async evaluate(): Promise<void> {
    try {
      const results = await this.client.evaluate(this.entryTexts());
      if (!results) return;
      const next = new Map<string, Drawn | Wrong>();
      for (const result of results) {
        const kept = result.state === 'same' ? this.results.get(result.id) : result;
        if (kept) next.set(result.id, kept);
      }
      this.results = next;
    } catch (error) {
      this.fail(error instanceof Refusal ? error.problem.detail : String(error));
    }
  }

  private entryTexts() {
    return this.body.lanes.flatMap((lane) => lane.entries.map(({ id, text }) => ({ id, text })));
  }

  private entryOf(id: string): LedgerEntry | undefined {
    return this.body.lanes.flatMap((lane) => lane.entries).find((entry) => entry.id === id);
  }

  /** A formula without a name gets the name of its function, so that other entries can use it. */
  private withName(text: string): string {
    if (splitEntry(text).name) return text;
    const word = /[A-Za-z_]\w*/.exec(text)?.[0] ?? 'entry';
    const taken = new Set(this.entryTexts().map((entry) => splitEntry(entry.text).name));
    let name = `my_${word}`;
    for (let number = 2; taken.has(name); number++) name = `my_${word}${number}`;
    return `${name} = ${text.trim()}`;
  }

  private savedView(time: Float64Array): ViewWindow {
    const rows = time.length;
    const { view } = this.body;
    if (view) {
      const first = firstRowFrom(time, instantOf(view.from));
      const count = firstRowFrom(time, instantOf(view.to)) - first;
      if (count > 0) return clamped({ first, count }, rows);
    }
    return clamped({ first: rows - FIRST_VIEW_ROWS, count: FIRST_VIEW_ROWS }, rows);
  }

  private fail(message: string): void {
    this.problem = message;
    this.status = 'failed';
  }

  private changed(): void {
    this.changes++;
    this.saving = { state: 'waiting' };
    clearTimeout(this.saveTimer);
    this.saveTimer = setTimeout(() => void this.save(), SAVE_AFTER_MS);
  }

  private async save(): Promise<void> {
    clearTimeout(this.saveTimer);
    if (this.isSaving) return this.changed(); // in order: each save is made on the version of the one before
    this.isSaving = true;
    const { changes } = this;
    try {
      const change = { title: this.title, body: $state.snapshot(this.body), version: this.version };
      const { version, savedAt } = await saveLedger(fetch, this.ledger.id, change);
      this.version = version;
      if (changes === this.changes) this.saving = { state: 'saved', at: savedAt };
    } catch (error) {
      this.saving = { state: 'failed', message: error instanceof Refusal ? error.problem.detail : String(error) };
    } finally {
      this.isSaving = false;
    }
  }
}
