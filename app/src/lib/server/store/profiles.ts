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
  /** Who saved it, where people sign in. */
  owner: string | null;
}

const toProfile = ({ name, shape, ...row }: ProfileRow): ReadingProfile => ({
  ...{ name, shape },
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

/** Whose a profile is; undefined where there is none of the name. */
export const ownerOfProfile = async (rows: Rows, name: string): Promise<{ owner: string | null } | undefined> =>
  rows<ProfileRow>('reading_profile').where({ name }).first('owner');

/** Keeps a profile; one of the same name gives way. */
export async function keepProfile(
  rows: Rows,
  { name, shape, choices }: ReadingProfile,
  owner: string | null,
): Promise<void> {
  const row = { name, shape, choices: toJson(choices), owner };
  await rows<ProfileRow>('reading_profile').insert(row).onConflict('name').merge();
}
