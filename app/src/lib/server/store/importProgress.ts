import type { Rows } from './store';

/** How far an import has come, where whoever asks may ask another server. */
interface ProgressRow {
  id: string;
  bytes: number;
  rows: number;
  started_at: number;
  at: number;
}

type StoredProgress = Pick<ProgressRow, 'bytes' | 'rows'> & { startedAt: number };

/** @param at  the instant, in milliseconds */
export async function noteProgress(
  rows: Rows,
  id: string,
  { bytes, rows: read, startedAt }: StoredProgress,
  at: number,
): Promise<void> {
  const row: ProgressRow = { id, bytes, rows: read, started_at: startedAt, at };
  await rows<ProgressRow>('import_progress').insert(row).onConflict('id').merge();
}

export async function findProgress(rows: Rows, id: string): Promise<StoredProgress | null> {
  const found = await rows<ProgressRow>('import_progress').where({ id }).first();
  return found ? { bytes: found.bytes, rows: found.rows, startedAt: found.started_at } : null;
}

export async function dropProgress(rows: Rows, id: string): Promise<void> {
  await rows<ProgressRow>('import_progress').where({ id }).delete();
}

/** Clears away what servers have left that are gone. */
export async function sweepProgress(rows: Rows, before: number): Promise<void> {
  await rows<ProgressRow>('import_progress').where('at', '<', before).delete();
}
