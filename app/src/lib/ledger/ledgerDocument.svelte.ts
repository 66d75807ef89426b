import { instantOf, type Stretch } from '@jaunty-ledger/core';
import type { KeptEntry } from '$lib/api/keptEntries';
import {
  MOST_EVENTS,
  newEntry,
  newLane,
  type Ledger,
  type LedgerBody,
  type LedgerEntry,
  type LedgerEvent,
  type LedgerLane,
  type NewLedger,
} from '$lib/api/ledgers';
import type { EntryText } from '$lib/compute/protocol';
import { freeInk, type EntryPlace } from '$lib/plots/laneModel';
import { EntrySaver } from './entrySaver.svelte';
import { History } from '$lib/components/history';
import * as edits from './ledgerEdits';
import { LedgerSaver } from './ledgerSaver.svelte';
import { scrubbed, type StepSize } from '$lib/components/scrub';

/** Who is told that a change asks for other bars, or for entries to be evaluated anew. */
interface DocumentListener {
  bars: () => void;
  entries: () => void;
}

/** What of a ledger says which bars it is of. */
const NO_ENDS = { from: null, to: null };

const barsAskedBy = ({ tape, rule, flagged, alone }: LedgerBody): string =>
  JSON.stringify([tape, rule, flagged, alone]);

/** What a ledger says: its title and its body. Every change goes through here, is saved, and can be undone. */
export class LedgerDocument {
  body = $state() as LedgerBody;
  title = $state('');
  canUndo = $state(false);
  canRedo = $state(false);
  /** Formulas that are kept for every ledger. */
  readonly kept: EntrySaver;
  readonly saver: LedgerSaver;
  private readonly history: History;

  /**
   * @param ledger   one that is kept, or a draft that is made one by its first change
   * @param address  `from` and `to` of an address that was handed on
   * @param created  told the number of the ledger that a draft has become
   */
  constructor(
    ledger: Ledger | NewLedger,
    private readonly told: DocumentListener,
    kept: readonly KeptEntry[],
    address: URLSearchParams,
    created: (id: number) => void,
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
  }

  get entries(): LedgerEntry[] {
    return edits.entriesOf(this.body);
  }

  /** What is evaluated: plain copies, which can go to another thread. */
  get entryTexts(): EntryText[] {
    return this.entries.map(({ id, text }) => ({ id, text }));
  }

  setRule(rule: string): void {
    this.editBars(() => (this.body.rule = rule));
  }

  setTape(name: string, rule: string): void {
    this.editBars(() => {
      // the title follows where it names the tape
      this.title = this.title.replace(new RegExp(`(?<!\\w)${this.body.tape}(?!\\w)`, 'g'), name);
      this.body.tape = name;
      this.body.rule = rule;
      this.body.view = null;
    });
  }

  /** The bars that entries are worked out from; all of them without. */
  get alone(): Stretch | undefined {
    const { from, to } = this.body.alone ?? NO_ENDS;
    if (from === null && to === null) return undefined;
    return { from: from === null ? -Infinity : instantOf(from), to: to === null ? Infinity : instantOf(to) };
  }

  setAlone(alone: LedgerBody['alone']): void {
    this.editBars(() => (this.body.alone = alone));
  }

  /** Whether flagged records are in the bars. */
  setFlagged(shown: boolean): void {
    this.editBars(() => (this.body.flagged = shown));
  }

  setTitle(title: string): void {
    this.edit(() => (this.title = title.trim() || this.title));
  }

  setAxis(axis: LedgerBody['axis']): void {
    this.edit(() => (this.body.axis = axis));
  }

  /** Which columns the rows have, in their order; all without. */
  setColumns(columns: string[] | null): void {
    this.edit(() => (this.body.columns = columns));
  }

  setTrimmed(trimmed: boolean): void {
    this.edit(() => (this.body.trimmed = trimmed));
  }

  setWatched(watched: string[]): void {
    this.edit(() => (this.body.watched = watched));
    this.told.entries();
  }

  /** What has been told is kept, but is not a step to undo. */
  noteEvent(event: LedgerEvent): void {
    this.body.events = [event, ...this.body.events].slice(0, MOST_EVENTS);
    this.saver.changed();
  }

  forgetEvents(): void {
    this.body.events = [];
    this.saver.changed();
  }

  /** Where one looks is saved, but is not a step to undo. */
  looked(view: LedgerBody['view']): void {
    this.body.view = view;
    this.saver.looked();
  }

  /** Adds an entry whose formula can be used. */
  addEntry(id: string, text: string, { laneId, second }: EntryPlace): void {
    const entry = { ...newEntry(id, text, freeInk(this.body)), second };
    this.edit(() => {
      if (laneId === undefined) this.body.lanes.push({ ...newLane(`lane-${id}`, 'none', 1), entries: [entry] });
      else this.body.lanes.find((lane) => lane.id === laneId)!.entries.push(entry);
    });
  }

  /** Writes an entry anew. It is kept as typed; what is wrong with it stands beside it. */
  editEntry(id: string, text: string, group = ''): void {
    const entry = this.entryOf(id);
    if (!entry || entry.text === text) return;
    this.edit(() => (entry.text = text), group);
    this.told.entries();
  }

  /** Turns one number of an entry by some steps; `start` is where it stands in the text. */
  scrubEntry(id: string, from: string, start: number, steps: number, size: StepSize): void {
    this.editEntry(id, scrubbed(from, start, steps, size), `turn ${id}`);
  }

  removeEntry(id: string): void {
    this.edit(() => edits.removeEntry(this.body, id));
    this.told.entries();
  }

  duplicateEntry(id: string): void {
    this.edit(() => edits.duplicateEntry(this.body, id));
    this.told.entries();
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
    this.told.entries();
  }

  canStartEarly(id: string): boolean {
    return edits.startedEarly(this.entryOf(id)?.text ?? '') !== undefined;
  }

  startEarly(id: string): void {
    const text = edits.startedEarly(this.entryOf(id)?.text ?? '');
    if (text !== undefined) this.editEntry(id, text);
  }

  /** Pins an empty note to an instant. */
  addNote(at: string): void {
    const note = { id: edits.newId(), at, text: '' };
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

  /** Makes a change that may ask for other bars; where it asks for the same ones, they stay as they are. */
  private editBars(change: () => void): void {
    const before = barsAskedBy(this.body);
    this.edit(change);
    if (barsAskedBy(this.body) !== before) this.told.bars();
  }

  private noteSteps(): void {
    this.canUndo = this.history.canUndo;
    this.canRedo = this.history.canRedo;
  }

  /** All that undo goes back to: the title and the body, but not where one looks. */
  private state(): string {
    return JSON.stringify({ title: this.title, body: { ...$state.snapshot(this.body), view: null, events: [] } });
  }

  private restore(state: string | undefined): void {
    if (state === undefined) return;
    const { title, body } = JSON.parse(state) as { title: string; body: LedgerBody };
    const view = body.tape === this.body.tape ? this.body.view : null;
    const isOfOtherBars = barsAskedBy(body) !== barsAskedBy(this.body);
    this.title = title;
    this.body = { ...body, view, events: this.body.events };
    this.noteSteps();
    this.saver.changed();
    if (isOfOtherBars) this.told.bars();
    else this.told.entries();
  }

  private entryOf(id: string): LedgerEntry | undefined {
    return this.entries.find((entry) => entry.id === id);
  }
}
