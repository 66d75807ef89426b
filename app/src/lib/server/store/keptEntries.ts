import type { KeptEntry } from '$lib/api/keptEntries';
import type { Store } from './connection';

interface KeptEntryRow extends KeptEntry {
  kept_at: number;
}

/** Formulas that were kept, the newest first. */
export async function listKeptEntries(db: Store): Promise<KeptEntry[]> {
  return db<KeptEntryRow>('kept_entry').orderBy('kept_at', 'desc').select('name', 'formula');
}

/** Keeps a formula; one of the same name gives way. */
export async function keepEntry(db: Store, { name, formula }: KeptEntry, at: number): Promise<void> {
  await db<KeptEntryRow>('kept_entry').insert({ name, formula, kept_at: at }).onConflict('name').merge();
}

export async function forgetEntry(db: Store, name: string): Promise<void> {
  await db<KeptEntryRow>('kept_entry').where({ name }).delete();
}
