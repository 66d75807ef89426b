import type { Working } from '@jaunty-ledger/core';
import { ComputeClient } from '$lib/compute/computeClient';
import { withPreviews } from '$lib/compute/previewRows';
import type { BarsAsked, Drawn, DrawnBars, EntryResult, EntryText, RowRange, Wrong } from '$lib/compute/protocol';

/** What the core makes of bars and entries, on a thread of its own; shown as it comes. */
export class EntryResults {
  shown = $state.raw<ReadonlyMap<string, Drawn | Wrong>>(new Map());
  /** The share that is done of an evaluation that takes long. */
  progress = $state<number>();

  private readonly client = new ComputeClient(
    (share) => (this.progress = share),
    (previews) => (this.shown = withPreviews(this.shown, previews)),
  );

  /** Loads bars; what is shown is still that of the bars before. Undefined where other bars were asked for since. */
  load(asked: BarsAsked): Promise<DrawnBars | undefined> {
    return this.client.open(asked);
  }

  /** Told how much of what has grown the results are of that are shown next. */
  grown: (growth: number) => void = () => undefined;

  /** Tells of bars that have come, or gone on; what is evaluated next is of them too. */
  grow(...asked: Parameters<ComputeClient['grow']>): number {
    return this.client.grow(...asked);
  }

  /** The bars of a stretch, ahead of all. */
  glance(...asked: Parameters<ComputeClient['glance']>): Promise<DrawnBars | undefined> {
    return this.client.glance(...asked);
  }

  /** Nothing is shown of the bars before. */
  clear(): void {
    this.shown = new Map();
  }

  /**
   * @param looked  rows that are shown first
   * @returns       whether all is shown; not where a later evaluation took the place of this one
   */
  async evaluate(entries: EntryText[], looked: readonly RowRange[] = []): Promise<boolean> {
    const evaluated = await this.client.evaluate(entries, looked);
    if (!evaluated) return false;
    // bars and columns are shown with the same rows
    this.grown(evaluated.growth);
    this.take(evaluated.results);
    return true;
  }

  /** How the value of an entry at a row came about; undefined for an entry that cannot be used. */
  working(entries: readonly EntryText[], id: string, row: number): Promise<Working | undefined> {
    return this.client.working([...entries], id, row);
  }

  close(): void {
    this.client.close();
  }

  /** Shows the results of all entries, and gives back what they take the place of. */
  private take(results: readonly EntryResult[]): void {
    const next = new Map<string, Drawn | Wrong>();
    for (const result of results) {
      const kept = result.state === 'same' ? this.shown.get(result.id) : result;
      if (kept) next.set(result.id, kept);
    }
    const gone = [...this.shown.values()].filter((result) => next.get(result.id) !== result);
    this.shown = next;
    for (const result of gone) if (result.state === 'drawn') this.client.giveBack(result.columns);
  }
}
