import { ExamineBody } from '$lib/api/pages';
import {
  BAR_COLUMNS,
  BarRuleError,
  type Calendar,
  makeCalendar,
  parseBarRule,
  type PhraseContext,
  printBarRule,
  rfc3339,
  splitEntry,
  type Unit,
} from '@jaunty-ledger/core';
import { barsOnTape } from '$lib/api/naturalBars';
import { placeFor, placeIn, shiftOf, type EntryPlace } from '$lib/plots/laneModel';
import type { KeptEntry } from '$lib/api/keptEntries';
import { stretchInView, type Ledger, type LedgerBody, type NewLedger } from '$lib/api/ledgers';
import { reasonOf, Refusal } from '$lib/api/problems';
import { aliasesOf, calendarOptions, type Tape } from '$lib/api/tapes';
import { addressOf, usesOf } from '$lib/examine/examineAddress';
import { BarView, stretchAhead, type BarSource } from '$lib/plots/barView.svelte';
import { EntryResults } from '$lib/plots/entryResults.svelte';
import { takeBrought } from '$lib/components/broughtFormula';
import type { Complaint } from './complaint';
import { LedgerDocument } from './ledgerDocument.svelte';
import { freeName, newId } from './ledgerEdits';
import { phraseContext } from './phraseContext';
import { LedgerWatch } from './ledgerWatch.svelte';
import { TapeFollower } from './tapeFollower.svelte';

const MAX_FORMULA_LENGTH = 2000;

/** What the further names of columns are, by the column. */
const ALIAS_SAYS: Record<string, string> = { close: 'the values of the file', value: 'price × size' };

/**
 * One ledger as it is worked on: what it says (`document`), where one looks at its bars (`view`), and what the core made of
 * its entries (`results`). This brings them together: a change of the document has bars loaded or entries evaluated.
 */
export class LedgerSession {
  status = $state<'loading' | 'ready' | 'failed'>('loading');
  problem = $state('');
  readonly document: LedgerDocument;
  readonly view: BarView;
  readonly results = new EntryResults();
  readonly follower: TapeFollower;
  readonly watch: LedgerWatch;
  /** A formula that was brought along, for the first line that is empty. */
  written = $state('');
  private adding: Promise<unknown> = Promise.resolve();
  /** The latest time that bars were asked for. */
  private opening: Promise<void> = Promise.resolve();

  /** @see LedgerDocument */
  constructor(
    ledger: Ledger | NewLedger,
    readonly tapes: readonly Tape[],
    kept: readonly KeptEntry[] = [],
    address: URLSearchParams = new URLSearchParams(),
    created: (id: number) => void = () => undefined,
  ) {
    const told = { bars: () => void this.open(), entries: () => void this.evaluate() };
    this.document = new LedgerDocument(ledger, told, kept, address, created);
    this.view = new BarView({
      axis: () => this.document.body.axis,
      lines: () => this.lines,
      rowsTrimmed: () => this.rowsTrimmed,
      looked: (stretch) => this.document.looked(stretch),
    });
    this.follower = new TapeFollower(this);
    this.watch = new LedgerWatch(this.document, this.view, this.results);
    void this.open();
    const written = (address.get('write') ?? '').slice(0, MAX_FORMULA_LENGTH);
    // a link from elsewhere changes no ledger: its formula waits to be entered
    if (written !== '' && written === takeBrought()) void this.addBrought(written);
    else this.written = written;
  }

  /** Columns, entries and other tapes that formulas may use, and entries that were kept, with a few words on each. */
  get names(): ReadonlyMap<string, string> {
    const { body, entries, kept } = this.document;
    return new Map([
      ...(this.view.tape ? [...aliasesOf(this.view.tape)] : []).map(([name, of]) => [name, ALIAS_SAYS[of]] as const),
      ...[...BAR_COLUMNS].map((name) => [name, 'column of the bars'] as const),
      ...(this.view.tape?.numbers ?? []).map(({ name, title }) => [name, `${title} of the file`] as const),
      ...entries.map(({ text }) => [splitEntry(text).name, splitEntry(text).formula] as const),
      ...kept.all.map(({ name, formula }) => [`${name} = ${formula}`, 'saved for other ledgers'] as const),
      ...this.tapes
        .filter(({ name }) => name !== body.tape && /^[A-Za-z_]\w*$/.test(name))
        .map(
          ({ name, valueName }) => [`${name}.${valueName ?? 'close'}`, `${valueName ?? 'close'} of ${name}`] as const,
        ),
    ]);
  }

  /** What phrases of the trade mean on these bars. */
  get phrases(): PhraseContext {
    return phraseContext(this.view.tape, this.document.body.rule, this.view.rows, this.names);
  }

  /** Text columns of the bars with their words, which formulas may group by and compare. */
  get texts(): ReadonlyMap<string, readonly string[]> {
    return this.view.bars?.words ?? new Map();
  }

  /** The entries, each with the rows that it is drawn later, and whether that is on bars to come. */
  get lines() {
    return this.document.entries.map((entry) => {
      const result = this.results.shown.get(entry.id);
      const isProjection = result?.state === 'drawn' && result.ahead > 0;
      return { ...entry, shift: shiftOf(entry, result), isProjection };
    });
  }

  /** Rows before the first one on which every entry has a value; 0 unless they are left out of view. */
  get rowsTrimmed(): number {
    if (!this.document.body.trimmed) return 0;
    const shown = this.document.entries.flatMap(({ id }) => this.results.shown.get(id) ?? []);
    const firsts = shown.flatMap((result) =>
      result.state === 'drawn' && result.ahead === 0
        ? result.columns.map(({ firstValid, values }) => firstValid % values.length)
        : [],
    );
    return Math.max(0, ...firsts);
  }

  /** Where an entry is examined, on what is in view. */
  examineAddress(entry: string): string {
    const { tape, rule, alone } = this.document.body;
    const view = stretchInView(this.document.body);
    const texts = this.document.entries.map(({ text }) => text);
    const [from, to] = [view?.from ?? alone?.from ?? '', view?.to ?? alone?.to ?? ''];
    const uses = usesOf(entry, texts);
    return addressOf(ExamineBody.parse({ page: 'examine', tape, bars: rule, entry, uses, from, to }));
  }

  close(): void {
    this.document.saver.close();
    this.follower.stop();
    this.results.close();
  }

  /** Loads the bars that the document asks for, then evaluates its entries. */
  open(): Promise<void> {
    return (this.opening = this.load());
  }

  private async load(): Promise<void> {
    const { tape: name, rule, flagged, view } = this.document.body;
    const { alone } = this.document;
    const tape = this.tapes.find((candidate) => candidate.name === name);
    if (!tape) return this.fail(`The tape ${name} was deleted. Choose another one in the heading.`);
    this.view.tape = tape;
    this.status = this.view.bars ? this.status : 'loading';
    try {
      const options = calendarOptions(tape);
      const shelf = this.tapes.map((one) => ({
        name: one.name,
        kind: one.kind,
        columns: one.columns,
        numbers: one.numbers,
        valueName: one.valueName,
      }));
      const source = { tape: name, rule, flagged, alone };
      if (!this.view.bars) void this.glance(tape, source, makeCalendar(options));
      const bars = await this.results.load({
        tape: name,
        rule,
        flagged: { shown: flagged, count: tape.flagged },
        alone,
        calendar: options,
        tapes: shelf,
      });
      if (!bars) return; // another choice came in between
      this.results.clear();
      this.view.show(tape, source, makeCalendar(options), bars, view);
      this.status = 'ready';
      this.follower.reopened();
      await this.evaluate();
    } catch (error) {
      this.fail(reasonOf(error));
    }
  }

  /** Shows the bars in view ahead of all, where those take longer. */
  private async glance(tape: Tape, source: BarSource, calendar: Calendar): Promise<void> {
    const { view: kept } = this.document.body;
    const stretch = stretchAhead(tape, source.rule, kept);
    if (!stretch || source.alone) return;
    try {
      const bars = await this.results.glance(tape.name, source.rule, source.flagged, stretch);
      if (bars && bars.time.length > 0 && !this.view.bars) this.view.show(tape, source, calendar, bars, kept, true);
    } catch (error) {
      if (!(error instanceof Refusal)) throw error; // whoever loads all bars is told too
    }
  }

  /** Another tape; of the rule stays what its records can answer. */
  setTape(name: string): void {
    const named = (other: string) => this.tapes.find((one) => one.name === other);
    const { rule, tape: before } = this.document.body;
    this.document.setTape(name, barsOnTape(rule, named(before), named(name)));
  }

  /** Another bar rule. @returns what is wrong with it, if anything is */
  setRule(text: string): Complaint | undefined {
    try {
      this.document.setRule(printBarRule(parseBarRule(text)));
      return undefined;
    } catch (error) {
      if (!(error instanceof BarRuleError)) throw error;
      return { message: error.message, position: error.position, length: 1 };
    }
  }

  /**
   * Adds what was typed into a lane's empty line. A formula that cannot be used is not added.
   * @param laneId  undefined for the line of a new lane
   * @returns what is wrong with it, if anything is
   */
  addEntry(laneId: string | undefined, text: string): Promise<Complaint | undefined> {
    return this.add(text, (unit) => placeIn(this.document.body, laneId, unit));
  }

  /** Adds the formula of another page, once; what is wrong with it stands at the empty line. */
  private async addBrought(text: string): Promise<void> {
    if (this.document.entries.some((entry) => splitEntry(entry.text).formula === text)) return;
    try {
      if (await this.add(text, (unit) => placeFor(this.document.body, unit))) this.written = text;
    } catch (error) {
      this.fail(reasonOf(error));
    }
  }

  /** Entries are added one after the other: two that wait to be evaluated would take each other's place for ever. */
  private add(text: string, placeOf: (unit: Unit) => EntryPlace): Promise<Complaint | undefined> {
    const added = this.adding.then(() => this.addNext(text, placeOf));
    this.adding = added.catch(() => undefined); // the caller receives the error
    return added;
  }

  private async addNext(text: string, placeOf: (unit: Unit) => EntryPlace): Promise<Complaint | undefined> {
    await this.opening;
    const id = newId();
    const named = this.withName(text);
    const shift = named.length - text.length;
    // a number that is turned meanwhile takes the place of the evaluation, but not of the entry
    const watched = this.watch.entries;
    while (!(await this.results.evaluate([...this.document.entryTexts, ...watched, { id, text: named }])));
    const result = this.results.shown.get(id)!;
    if (result.state === 'wrong') {
      const { message, position, length } = result;
      return { message, position: Math.max(0, position - shift), length };
    }
    const rows = this.view.viewRows;
    this.document.addEntry(id, named, placeOf(result.unit));
    this.view.showRowsToCome(rows);
    this.written = '';
    return undefined;
  }

  /** Leaves the bars at the beginning out of view on which not every entry has a value. */
  setTrimmed(trimmed: boolean): void {
    this.document.setTrimmed(trimmed);
    this.view.look(this.view.window);
  }

  /** Bars side by side, or in true time; the same ones stay in view. */
  setAxis(axis: LedgerBody['axis']): void {
    this.view.keepingRows(() => this.document.setAxis(axis));
  }

  addNote(row: number): void {
    const { bars, rows } = this.view;
    this.document.addNote(rfc3339(bars!.time[Math.min(rows - 1, row)]));
  }

  undo(): void {
    this.view.keepingRows(() => this.document.undo());
  }

  redo(): void {
    this.view.keepingRows(() => this.document.redo());
  }

  async evaluate(): Promise<void> {
    const rows = this.view.viewRows;
    try {
      const asked = [...this.document.entryTexts, ...this.watch.entries];
      if (await this.results.evaluate(asked, this.view.rowsLookedAt())) this.watch.look();
      this.view.showRowsToCome(rows);
    } catch (error) {
      this.fail(reasonOf(error));
    }
  }

  /** A formula without a name gets the name of its function, so that other entries can use it. */
  private withName(text: string): string {
    if (splitEntry(text).name) return text;
    const word = /[A-Za-z_]\w*/.exec(text)?.[0] ?? 'entry';
    return `${freeName(this.document.body, `my_${word}`)} = ${text.trim()}`;
  }

  private fail(message: string): void {
    this.problem = message;
    this.status = 'failed';
  }
}
