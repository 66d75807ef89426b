import type { LedgerBody, LedgerLane } from '$lib/api/ledgers';
import type { BarView } from './barView.svelte';
import type { EntryResults } from './entryResults.svelte';

/** Bars and all that is drawn over them: what rows, workings, pictures and files are made of. */
export interface PlottedPage {
  title: string;
  view: BarView;
  results: EntryResults;
  lanes: readonly LedgerLane[];
  notes: LedgerBody['notes'];
  /** Columns of the rows that were chosen, in their order; all without. */
  columns: readonly string[] | null;
}
