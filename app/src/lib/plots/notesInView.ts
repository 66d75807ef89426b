import { firstRowFrom } from '@jaunty-ledger/core';
import type { LedgerBody } from '$lib/api/ledgers';
import { instantOf } from '@jaunty-ledger/core';
import { xOfRow, type ViewWindow } from '$lib/chart/viewWindow';

/** The pinned notes of a stretch, each at the bar that its instant lies in. */
export function notesInView(
  notes: LedgerBody['notes'],
  time: Float64Array,
  view: ViewWindow,
  widthPx: number,
): { note: LedgerBody['notes'][number]; x: number }[] {
  const rowOf = (at: string) => Math.max(0, firstRowFrom(time, instantOf(at) + 1) - 1);
  return notes
    .map((note) => ({ note, x: xOfRow(view, rowOf(note.at), widthPx) }))
    .filter(({ x }) => x >= 0 && x <= widthPx);
}
