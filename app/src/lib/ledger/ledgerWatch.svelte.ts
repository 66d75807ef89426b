import { rfc3339 } from '@jaunty-ledger/core';
import type { EntryText } from '$lib/compute/protocol';
import type { BarView } from '$lib/plots/barView.svelte';
import type { EntryResults } from '$lib/plots/entryResults.svelte';
import type { LedgerDocument } from './ledgerDocument.svelte';

/** Entries that are watched have ids of their own, and are in no lane. */
const idOf = (at: number): string => `watched:${at}`;

/** Watches formulas of a ledger as its tape is fed: each time one becomes true it is noted in the ledger, and told. */
export class LedgerWatch {
  /** Whether each formula was true when it was looked at last; looked at once, nothing has become anything. */
  private readonly known = new Map<string, boolean>();

  constructor(
    private readonly document: LedgerDocument,
    private readonly view: BarView,
    private readonly results: EntryResults,
  ) {}

  get entries(): EntryText[] {
    return this.document.body.watched.map((formula, at) => ({
      id: idOf(at),
      text: `told_when_${at + 1} = ${formula}`,
    }));
  }

  /** What is wrong with a watched formula; nothing if nothing is. */
  problemOf(at: number): string | undefined {
    const result = this.results.shown.get(idOf(at));
    return result?.state === 'wrong' ? result.message : undefined;
  }

  add(formula: string): void {
    const { watched } = this.document.body;
    if (formula.trim() === '' || watched.includes(formula)) return;
    this.document.setWatched([...watched, formula]);
    if (typeof Notification !== 'undefined' && Notification.permission === 'default')
      void Notification.requestPermission();
  }

  remove(formula: string): void {
    this.known.delete(formula);
    this.document.setWatched(this.document.body.watched.filter((one) => one !== formula));
  }

  /** Looks at what the formulas say at the newest bar. */
  look(): void {
    const { bars, tape } = this.view;
    const last = this.view.rows - 1;
    if (!bars || last < 0) return;
    this.document.body.watched.forEach((formula, at) => {
      const result = this.results.shown.get(idOf(at));
      if (result?.state !== 'drawn' || result.ahead > 0) return;
      const value = result.columns[0].values[last];
      if (Number.isNaN(value)) return;
      const before = this.known.get(formula);
      this.known.set(formula, value !== 0);
      if (before !== false || value === 0) return;
      this.document.noteEvent({ at: new Date().toISOString(), bar: rfc3339(bars.time[last]), says: formula });
      if (typeof Notification !== 'undefined' && Notification.permission === 'granted')
        new Notification(`${tape.name}: ${formula}`, { body: this.document.title, tag: `${tape.name} ${formula}` });
    });
  }
}
