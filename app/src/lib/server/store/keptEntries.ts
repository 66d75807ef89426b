import type { KeptEntry } from '$lib/api/keptEntries';
import type { Rows } from './store';

interface KeptEntryRow extends KeptEntry {
  kept_at: number;
}

/** Formulas that were kept, the newest first. */
export async function listKeptEntries(rows: Rows): Promise<KeptEntry[]> {
  return rows<KeptEntryRow>('kept_entry').orderBy('kept_at', 'desc').select('name', 'formula');
}

/** Keeps a formula; one of the same name gives way. */
export async function keepEntry(rows: Rows, { name, formula }: KeptEntry, at: number): Promise<void> {
  await rows<KeptEntryRow>('kept_entry').insert({ name, formula, kept_at: at }).onConflict('name').merge();
}

export async function forgetEntry(rows: Rows, name: string): Promise<void> {
  await rows<KeptEntryRow>('kept_entry').where({ name }).delete();
}
