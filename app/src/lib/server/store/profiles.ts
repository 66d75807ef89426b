import { fromJson, toJson } from './json';
import type { Rows } from './store';

/** A reading that was kept under a name, as the parameters of an import. */
interface ReadingProfile {
  name: string;
  /** What files that it fits have in common. */
  shape: string;
  choices: Record<string, string>;
}

interface ProfileRow {
  name: string;
  shape: string;
  choices: string;
}

const toProfile = (row: ProfileRow): ReadingProfile => ({
  ...row,
  choices: fromJson<Record<string, string>>(row.choices),
});

export async function findProfile(rows: Rows, name: string): Promise<ReadingProfile | undefined> {
  const row = await rows<ProfileRow>('reading_profile').where({ name }).first();
  return row && toProfile(row);
}

/** The profile that was kept for files of a shape. */
export async function profileOfShape(rows: Rows, shape: string): Promise<ReadingProfile | undefined> {
  const row = await rows<ProfileRow>('reading_profile').where({ shape }).first();
  return row && toProfile(row);
}

/** Keeps a profile; one of the same name gives way. */
export async function keepProfile(rows: Rows, { name, shape, choices }: ReadingProfile): Promise<void> {
  const row = { name, shape, choices: toJson(choices) };
  await rows<ProfileRow>('reading_profile').insert(row).onConflict('name').merge();
}
