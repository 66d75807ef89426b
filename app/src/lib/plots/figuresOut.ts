import { postColumns } from '$lib/api/client';
import { BAR_FIELDS, rfc3339 } from '@jaunty-ledger/core';
import { rowsInView } from '$lib/chart/viewWindow';
import type { PlottedPage } from './plottedPage';
import { chosenOf, rowColumns } from './rowColumns';

/** Formats that figures are handed out in. */
export const FIGURE_FORMATS = {
  csv: { says: 'CSV', ending: 'csv', type: 'text/csv' },
  parquet: { says: 'Parquet', ending: 'parquet', type: 'application/vnd.apache.parquet' },
  arrow: { says: 'Arrow', ending: 'arrows', type: 'application/vnd.apache.arrow.stream' },
  ndjson: { says: 'lines of JSON', ending: 'ndjson', type: 'application/x-ndjson' },
} as const;

/** The figures of bars and entries as a file, made by the server from the records. @throws {Refusal} where it cannot be made */
export async function fetchFigures(
  { view, results, lanes, columns }: PlottedPage,
  format: keyof typeof FIGURE_FORMATS,
  stretch: 'view' | 'all',
  complete: boolean,
): Promise<Blob> {
  const { time } = view.bars!;
  const [from, to] = rowsInView(view.window, view.rows);
  const entries = lanes
    .flatMap((lane) => lane.entries)
    .filter(({ id }) => results.shown.get(id)?.state === 'drawn')
    .map(({ text }) => text);
  const { tape, rule: bars, flagged, alone: bounds } = view.source;
  const alone = bounds && {
    ...(bounds.from > -Infinity && { from: rfc3339(bounds.from) }),
    ...(bounds.to < Infinity && { to: rfc3339(bounds.to) }),
  };
  const range =
    stretch === 'all' ? {} : { from: rfc3339(time[from]), ...(to < time.length && { to: rfc3339(time[to]) }) };
  // what was chosen of rows that have since gone is not there to be asked for
  const there = rowColumns({ view, results, lanes }, BAR_FIELDS);
  const chosen = columns && { columns: chosenOf(there, columns).map(({ key }) => key) };
  // without an entry the bars alone are asked for
  return postColumns(
    fetch,
    {
      ...{ tape, bars, flagged, complete, alone, ...range, ...chosen },
      entries: entries.length > 0 ? entries : ['close_of_bar = close'],
    },
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
