import { postColumns } from '$lib/api/client';
import { rfc3339 } from '@jaunty-ledger/core';
import { rowsInView } from '$lib/chart/viewWindow';
import { entriesOf } from './ledgerEdits';
import type { LedgerSession } from './ledgerSession.svelte';

/** Formats that figures are handed out in. */
export const FIGURE_FORMATS = {
  csv: { says: 'CSV', ending: 'csv', type: 'text/csv' },
  parquet: { says: 'Parquet', ending: 'parquet', type: 'application/vnd.apache.parquet' },
  arrow: { says: 'Arrow', ending: 'arrows', type: 'application/vnd.apache.arrow.stream' },
  ndjson: { says: 'lines of JSON', ending: 'ndjson', type: 'application/x-ndjson' },
} as const;

/** The figures of a ledger as a file, made by the server from the records. @throws {Refusal} where it cannot be made */
export async function fetchFigures(
  session: LedgerSession,
  format: keyof typeof FIGURE_FORMATS,
  stretch: 'view' | 'all',
  complete: boolean,
): Promise<Blob> {
  const { time } = session.bars!;
  const [from, to] = rowsInView(session.view, session.rows);
  const entries = entriesOf(session.body)
    .filter(({ id }) => session.computed.shown.get(id)?.state === 'drawn')
    .map(({ text }) => text);
  const { tape, rule: bars, flagged } = session.body;
  const range =
    stretch === 'all' ? {} : { from: rfc3339(time[from]), ...(to < time.length && { to: rfc3339(time[to]) }) };
  // without an entry the bars alone are asked for
  return postColumns(
    fetch,
    { tape, bars, flagged, entries: entries.length > 0 ? entries : ['close_of_bar = close'], complete, ...range },
    FIGURE_FORMATS[format].type,
  );
}

/** Gives a file to the browser to keep. */
export function saveAs(blob: Blob, name: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}
