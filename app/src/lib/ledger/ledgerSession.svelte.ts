import {
  BAR_FIELDS,
  firstRowFrom,
  makeCalendar,
  parseBarRule,
  printBarRule,
  BarRuleError,
  type Calendar,
  type Working,
} from '@jaunty-ledger/core';
import type { KeptEntry } from '$lib/api/keptEntries';
import {
  newEntry,
  newLane,
  type Ledger,
  type LedgerBody,
  type LedgerEntry,
  type LedgerLane,
  type NewLedger,
} from '$lib/api/ledgers';
import { Refusal } from '$lib/api/problems';
import { calendarOptions, type Tape } from '$lib/api/tapes';
import { instantOf, rfc3339 } from '@jaunty-ledger/core';
import { dayStarts, type DayStarts } from '$lib/chart/calendarTicks';
import { clamped, rowsAboutView, rowsInView, trueTimeOf, wholeSpan, type ViewWindow } from '$lib/chart/viewWindow';
import type { DrawnBars, RowRange } from '$lib/compute/protocol';
import { History } from './history';
import { EntryResults } from './entryResults.svelte';
import { EntrySaver } from './entrySaver.svelte';
import { freeInk, laneFor, splitEntry } from './laneModel';
import * as edits from './ledgerEdits';
import { LedgerSaver } from './ledgerSaver.svelte';
import { placesOf, timesWithThoseToCome, viewOfRows, viewWithRow } from './ledgerView';
import { scrubbed, type StepSize } from './scrub';

/** Bars of a first view: what a page shows without crowding. */
const FIRST_VIEW_ROWS = 140;
const NO_TIMES = new Float64Array(0);
const NO_DAYS: DayStarts = { rows: new Int32Array(0), dates: new Int32Array(0) };

/** What is wrong with something that was typed, and where in it. */
export interface Complaint {
  message: string;
  position: number;
  length: number;
}

/** Fewer are computed before a frame is painted. */
const MANY_ROWS = 50_000;

/**
 * One ledger as it is worked on: what it says (`body`, which is saved), what the core made of it (`bars`, `computed`), and
 * where one looks (`view`, `pointer`). The components draw it and call its methods; nobody else changes it.
 */
export class LedgerSession {
  body = $state() as LedgerBody;
  title = $state('');
  tape = $state.raw() as Tape;
  status = $state<'loading' | 'ready' | 'failed'>('loading');
  problem = $state('');
  bars = $state.raw<DrawnBars>();
  readonly computed = new EntryResults();
  private inView = $state.raw({ first: 0, count: 1 });
  /** The row under the pointer. */
  pointer = $state<number>();
  /** A row that is held fast, for its working. */
  pinned = $state<number>();
  isRowsOpen = $state(false);
  /** What is looked into: a value of an entry, or without one the bar. */
  working = $state<{ entryId: string | undefined; row: number }>();
  /** Two rows that are measured between. */
  measure = $state<{ from: number; to: number }>();
  /** Formulas that are kept for every ledger. */
  readonly kept: EntrySaver;
  calendar = $state.raw() as Calendar;
  /** Starts of the bars, and of those to come that displaced lines are drawn on, where the calendar tells them. */
  readonly times = $derived(
    this.bars
      ? timesWithThoseToCome(this.bars.time, this.viewRows - this.rows, this.body.rule, this.calendar)
      : NO_TIMES,
  );
  readonly days = $derived(this.bars ? dayStarts(this.times, this.calendar) : NO_DAYS);
  private readonly trueTime = $derived(
    this.bars && this.body.axis === 'time' && this.rows > 1 ? trueTimeOf(this.times, this.rows) : undefined,
  );
  /** The stretch in view. */
  readonly view: ViewWindow = $derived({ ...this.inView, trueTime: this.trueTime });

  private adding: Promise<unknown> = Promise.resolve();
  private readonly history: History;
  canUndo = $state(false);
  canRedo = $state(false);
  readonly saver: LedgerSaver;

  /** @param ledger  one that is kept, or a draft that is made one by its first change */
  constructor(
    ledger: Ledger | NewLedger,
    readonly tapes: readonly Tape[],
    kept: readonly KeptEntry[] = [],
    /** `from` and `to` of an address that was handed on. */
    address: URLSearchParams = new URLSearchParams(),
    created: (id: number) => void = () => undefined,
  ) {
    this.kept = new EntrySaver(kept);
    this.body = ledger.body;
    this.title = ledger.title;
    const view = { from: address.get('from') ?? '', to: address.get('to') ?? '' };
    if (!Number.isNaN(instantOf(view.from)) && !Number.isNaN(instantOf(view.to))) this.body.view = view;
    const storage = typeof localStorage === 'undefined' ? undefined : localStorage;
    const current = () => ({ title: this.title, body: $state.snapshot(this.body) });
    const keyOf = (name: string | number) => `jaunty-steps-${name}`;
    const becomes = (id: number) => {
      this.history.moveTo(keyOf(id), this.state());
      created(id);
    };
    this.saver = new LedgerSaver(ledger, current, becomes, storage);
    this.history = new History(storage, keyOf('id' in ledger ? ledger.id : `draft-${ledger.body.tape}`), this.state());
    const unsaved = this.saver.takeUnsaved();
    if (unsaved) this.edit(() => Object.assign(this, unsaved));
    this.noteSteps();
    void this.open();
  }

  get rows(): number {
    return this.bars?.time.length ?? 0;
  }

  /** Columns, entries and other tapes that formulas may use, and entries that were kept, with a few words on each. */
  get names(): ReadonlyMap<string, string> {
    const columns = BAR_FIELDS.filter((field) => field !== 'time' && field !== 'end');
    return new Map([
      ...columns.map((name) => [name, 'column of the bars'] as const),
      ...edits.entriesOf(this.body).map(({ text }) => [splitEntry(text).name, splitEntry(text).formula] as const),
      ...this.kept.all.map(({ name, formula }) => [`${name} = ${formula}`, 'kept for other ledgers'] as const),
      ...this.tapes
        .filter(({ name }) => name !== this.body.tape && /^[A-Za-z_]\w*$/.test(name))
        .map(({ name }) => [`${name}.close`, `close of ${name}`] as const),
    ]);
  }

  /** Text columns of the bars, which formulas may group by. */
  get texts(): string[] {
    return Object.keys(this.bars?.texts ?? {});
  }

  /** Rows that may come into view: the bars, and those to come that displaced lines are drawn on. */
  get viewRows(): number {
    return this.rows + Math.max(0, ...edits.entriesOf(this.body).map(({ shift, hidden }) => (hidden ? 0 : shift)));
  }

  get viewPlaces(): number {
    return placesOf(this.viewRows, this.rows, this.trueTime);
  }

  /** Rows before the first one on which every entry has a value; 0 unless they are left out of view. */
  get rowsTrimmed(): number {
    if (!this.body.trimmed) return 0;
    const firsts = [...this.computed.shown.values()].flatMap((result) =>
      result.state === 'drawn' ? result.columns.map(({ firstValid, values }) => firstValid % values.length) : [],
    );
    return Math.max(0, ...firsts);
  }

  /** The row whose figures the margin shows: under the pointer, else the pinned one, else the last in view. */
  get figureRow(): number {
    return this.pointer ?? this.pinned ?? rowsInView(this.view, this.rows)[1] - 1;
  }

  close(): void {
    this.saver.close();
    this.computed.close();
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
      const bars = await this.computed.load(name, rule, flagged, options, names);
      if (!bars) return; // another choice came in between
      this.calendar = makeCalendar(options);
      this.computed.clear();
      this.bars = bars;
      this.pointer = this.pinned = this.measure = undefined;
      this.inView = this.savedView();
      this.status = 'ready';
      await this.evaluate();
    } catch (error) {
      this.fail(error instanceof Refusal ? error.problem.detail : String(error));
    }
  }

  /** Another bar rule. @returns what is wrong with it, if anything is */
  setRule(text: string): Complaint | undefined {
    let rule: string;
    try {
      rule = printBarRule(parseBarRule(text));
    } catch (error) {
      if (!(error instanceof BarRuleError)) throw error;
      return { message: error.message, position: error.position, length: 1 };
    }
    this.edit(() => (this.body.rule = rule));
    void this.open();
    return undefined;
  }

  setTape(name: string): void {
    this.edit(() => {
      this.body.tape = name;
      this.body.view = null;
    });
    void this.open();
  }

  /** Whether flagged records are in the bars. */
  setFlagged(shown: boolean): void {
    this.edit(() => (this.body.flagged = shown));
    void this.open();
  }

  setTitle(title: string): void {
    this.edit(() => (this.title = title.trim() || this.title));
  }

  /**
   * Adds what was typed into a lane's empty line. A formula that cannot be used is not added. Entries are added one after
   * the other: two that wait to be evaluated would take each other's place for ever.
   * @returns what is wrong with it, if anything is
   */
  addEntry(laneId: string, text: string): Promise<Complaint | undefined> {
    const added = this.adding.then(() => this.addNext(laneId, text));
    this.adding = added.catch(() => undefined); // whoever asked hears of it
    return added;
  }

  private async addNext(laneId: string, text: string): Promise<Complaint | undefined> {
    const id = edits.newId();
    const named = this.withName(text);
    const shift = named.length - text.length;
    // a number that is turned meanwhile takes the place of the evaluation, but not of the entry
    while (!(await this.computed.evaluate([...this.entryTexts(), { id, text: named }])));
    const result = this.computed.shown.get(id)!;
    if (result.state === 'wrong') {
      const { message, position, length } = result;
      return { message, position: Math.max(0, position - shift), length };
    }
    const entry = newEntry(id, named, freeInk(this.body));
    const lane = laneFor(this.body, laneId, result.unit);
    this.edit(() => {
      if (lane === undefined) this.body.lanes.push({ ...newLane(`lane-${id}`, 'none', 1), entries: [entry] });
      else this.body.lanes.find((candidate) => candidate.id === lane)!.entries.push(entry);
    });
    return undefined;
  }

  /** Writes an entry anew. It is kept as typed; what is wrong with it stands beside it. */
  editEntry(id: string, text: string, group = ''): void {
    const entry = this.entryOf(id);
    if (!entry || entry.text === text) return;
    this.edit(() => (entry.text = text), group);
    void this.evaluate();
  }

  /** Turns one number of an entry by some steps; `start` is where it stands in the text. */
  scrubEntry(id: string, from: string, start: number, steps: number, pace: StepSize): void {
    this.editEntry(id, scrubbed(from, start, steps, pace), `turn ${id}`);
  }

  removeEntry(id: string): void {
    this.edit(() => edits.removeEntry(this.body, id));
    void this.evaluate();
  }

  duplicateEntry(id: string): void {
    this.edit(() => edits.duplicateEntry(this.body, id));
    void this.evaluate();
  }

  moveEntry(id: string, by: 1 | -1): void {
    this.edit(() => edits.moveEntry(this.body, id, by));
  }

  moveEntryTo(id: string, laneId: string, index: number): void {
    this.edit(() => edits.moveEntryTo(this.body, id, laneId, index));
  }

  moveToNewLane(id: string): void {
    this.edit(() => edits.moveToNewLane(this.body, id));
  }

  soloEntry(id: string): void {
    this.edit(() => edits.soloEntry(this.body, id));
  }

  toggleEntry(id: string): void {
    this.styleEntry(id, { hidden: !this.entryOf(id)?.hidden });
  }

  /** How an entry is drawn. */
  styleEntry(id: string, style: Partial<Omit<LedgerEntry, 'id' | 'text'>>): void {
    const entry = this.entryOf(id);
    if (entry) this.edit(() => Object.assign(entry, style), Object.keys(style).join());
  }

  /** How a lane is drawn. @param group  of changes that are undone as one */
  styleLane(id: string, style: Partial<Omit<LedgerLane, 'id' | 'entries'>>, group = ''): void {
    const lane = this.body.lanes.find((candidate) => candidate.id === id);
    if (lane) this.edit(() => Object.assign(lane, style), group && `${group} ${id}`);
  }

  moveLane(id: string, by: 1 | -1): void {
    this.edit(() => edits.moveLane(this.body, id, by));
  }

  addSet(set: (typeof edits.SETS)[number]): void {
    this.edit(() => edits.addSet(this.body, set));
    void this.evaluate();
  }

  /** Opens the working of an entry's value, or of the bar itself, at the row that is pinned or pointed at. */
  openWorking(entryId: string | undefined, row = this.figureRow): void {
    this.pinned = row;
    this.working = { entryId, row };
  }

  closeWorking(): void {
    this.working = this.pinned = undefined;
  }

  /** How the value that is looked into came about; undefined for a bar, and for an entry that cannot be used. */
  async workingOf(entryId: string, row: number): Promise<Working | undefined> {
    return this.computed.working(this.entryTexts(), entryId, row);
  }

  canStartEarly(id: string): boolean {
    return edits.startedEarly(this.entryOf(id)?.text ?? '') !== undefined;
  }

  startEarly(id: string): void {
    const text = edits.startedEarly(this.entryOf(id)?.text ?? '');
    if (text !== undefined) this.editEntry(id, text);
  }

  setTrimmed(trimmed: boolean): void {
    this.edit(() => (this.body.trimmed = trimmed));
    this.look(this.view);
  }

  /** Pins an empty note to a row. */
  addNote(row: number): void {
    const note = { id: edits.newId(), at: rfc3339(this.bars!.time[row]), text: '' };
    this.edit(() => this.body.notes.push(note));
  }

  /** Writes a note anew; one without words is taken away. */
  writeNote(id: string, text: string): void {
    this.edit(() => {
      const note = this.body.notes.find((candidate) => candidate.id === id);
      if (note) note.text = text.trim();
      if (!text.trim()) this.body.notes = this.body.notes.filter((candidate) => candidate.id !== id);
    });
  }

  undo(): void {
    this.restore(this.history.undo(this.state()));
  }

  redo(): void {
    this.restore(this.history.redo(this.state()));
  }

  look(view: ViewWindow): void {
    const left = this.rowsTrimmed;
    const within = clamped({ ...view, first: view.first - left, trueTime: this.trueTime }, this.viewPlaces - left);
    this.inView = { first: within.first + left, count: within.count };
    const { time, end } = this.bars!;
    const [from, to] = rowsInView(this.view, this.rows);
    const isWhole = this.view.count >= this.rows;
    this.body.view =
      isWhole || to <= from ? null : { from: rfc3339(time[from]), to: rfc3339(Math.max(end[to - 1], time[to - 1])) };
    this.saver.looked(); // where one looks is saved, but not a step to undo
  }

  /** Moves the view so that it shows a row. */
  bringIntoView(row: number): void {
    this.look(viewWithRow(this.view, row, ...rowsInView(this.view, this.viewRows)));
  }

  /** Bars side by side, or in true time; the same ones stay in view. */
  setAxis(axis: LedgerBody['axis']): void {
    const [from, to] = rowsInView(this.view, this.viewRows);
    this.edit(() => (this.body.axis = axis));
    this.look(viewOfRows(from, to, this.viewPlaces, this.trueTime));
  }

  lookAtAll(): void {
    this.look(wholeSpan(this.viewPlaces));
  }

  private async evaluate(): Promise<void> {
    try {
      await this.computed.evaluate(this.entryTexts(), this.looked());
    } catch (error) {
      this.fail(error instanceof Refusal ? error.problem.detail : String(error));
    }
  }

  /**
   * Rows that are looked at, whatever entries are displaced by: in the chart, and where the margin's figures are from. None
   * where all rows come as soon.
   */
  private looked(): RowRange[] {
    if (this.rows < MANY_ROWS) return [];
    const shifts = edits.entriesOf(this.body).map(({ shift }) => shift);
    const [from, to] = rowsAboutView(this.view, this.viewRows);
    const inChart = [
      Math.max(0, from - Math.max(0, ...shifts)),
      Math.min(this.rows, to - Math.min(0, ...shifts)),
    ] as const;
    const row = this.figureRow;
    const isElsewhere = row >= 0 && row < this.rows && (row < inChart[0] || row >= inChart[1]);
    return isElsewhere ? [inChart, [row, row + 1]] : [inChart];
  }

  private entryTexts() {
    return edits.entriesOf(this.body).map(({ id, text }) => ({ id, text }));
  }

  /** Makes a change that can be undone. */
  private edit(change: () => void, group = ''): void {
    const before = this.state();
    change();
    const after = this.state();
    if (after === before) return;
    this.history.changed(before, after, group);
    this.noteSteps();
    this.saver.changed();
  }

  private noteSteps(): void {
    this.canUndo = this.history.canUndo;
    this.canRedo = this.history.canRedo;
  }

  /** All that undo goes back to: the title and the body, but not where one looks. */
  private state(): string {
    return JSON.stringify({ title: this.title, body: { ...$state.snapshot(this.body), view: null } });
  }

  private restore(state: string | undefined): void {
    if (state === undefined) return;
    const { title, body } = JSON.parse(state) as { title: string; body: LedgerBody };
    const { tape, rule, flagged, view, axis } = this.body;
    const [from, to] = rowsInView(this.view, this.viewRows);
    const isOfOtherBars = tape !== body.tape || rule !== body.rule || flagged !== body.flagged;
    this.title = title;
    this.body = { ...body, view: isOfOtherBars ? null : view };
    if (axis !== body.axis && !isOfOtherBars) this.look(viewOfRows(from, to, this.viewPlaces, this.trueTime));
    this.noteSteps();
    this.saver.changed();
    if (isOfOtherBars) void this.open();
    else void this.evaluate();
  }

  private entryOf(id: string): LedgerEntry | undefined {
    return edits.entriesOf(this.body).find((entry) => entry.id === id);
  }

  /** A formula without a name gets the name of its function, so that other entries can use it. */
  private withName(text: string): string {
    if (splitEntry(text).name) return text;
    const word = /[A-Za-z_]\w*/.exec(text)?.[0] ?? 'entry';
    return `${edits.freeName(this.body, `my_${word}`)} = ${text.trim()}`;
  }

  private savedView(): ViewWindow {
    const { rows } = this;
    const { time } = this.bars!;
    const { view } = this.body;
    const saved = view ? [view.from, view.to].map((at) => firstRowFrom(time, instantOf(at))) : [0, 0];
    const [from, to] = saved[1] > saved[0] ? saved : [Math.max(0, rows - FIRST_VIEW_ROWS), rows];
    return viewOfRows(from, to, this.viewPlaces, this.trueTime);
  }

  private fail(message: string): void {
    this.problem = message;
    this.status = 'failed';
  }
}
