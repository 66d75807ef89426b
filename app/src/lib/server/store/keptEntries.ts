import type { KeptEntry } from '$lib/api/keptEntries';
import type { Rows } from './store';

interface KeptEntryRow extends KeptEntry {
  kept_at: number;
  /** Who saved it, where people sign in. */
  owner: string | null;
}

const anyOf = (rows: Rows) => rows<KeptEntryRow>('kept_entry');

/** Saved formulas, the newest first. */
export async function listKeptEntries(rows: Rows): Promise<KeptEntry[]> {
  return anyOf(rows).orderBy('kept_at', 'desc').select('name', 'formula');
}

/** Whose a saved formula is; undefined where there is none of the name. */
export const ownerOfEntry = async (rows: Rows, name: string): Promise<{ owner: string | null } | undefined> =>
  anyOf(rows).where({ name }).first('owner');

/** Saves a formula; one of the same name gives way. */
export async function keepEntry(
  rows: Rows,
  { name, formula }: KeptEntry,
  { owner, at }: { owner: string | null; at: number },
): Promise<void> {
  await anyOf(rows).insert({ name, formula, kept_at: at, owner }).onConflict('name').merge();
}

/** @returns whether there was one */
export const forgetEntry = async (rows: Rows, name: string): Promise<boolean> =>
  (await anyOf(rows).where({ name }).delete()) > 0;
