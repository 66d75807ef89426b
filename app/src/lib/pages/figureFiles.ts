import type { Figures } from '$lib/pictures/lines';

export type Cell = Figures[number] | string;

/** Figures as rows, and what they are of. */
export interface FigureTable {
  says: string;
  head: readonly string[];
  rows: readonly (readonly Cell[])[];
}

/** Quotes after RFC 4180; a missing figure is empty. */
const cellText = (cell: Cell): string => {
  if (cell === null) return '';
  const text = String(cell);
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
};

/** Figures as CSV. */
export const csvText = ({ head, rows }: Pick<FigureTable, 'head' | 'rows'>): string =>
  [head, ...rows].map((row) => row.map(cellText).join(',')).join('\n') + '\n';
