import type { ImportProgress } from '$lib/api/tapes';

/* How far imports have come. The page that sends a file under a number of its own asks for it by that number. */

/** Imports that are under way now. */
const underWay = new Map<string, ImportProgress>();

export const progressOf = (id: string): ImportProgress => underWay.get(id) ?? null;

export function beginImport(id: string | undefined): (bytes: number, rows: number) => void {
  const startedAt = Date.now();
  const reached = (bytes: number, rows: number) => {
    if (id !== undefined) underWay.set(id, { bytes, rows, startedAt });
  };
  reached(0, 0);
  return reached;
}

export function endImport(id: string | undefined): void {
  if (id !== undefined) underWay.delete(id);
}
