import { refuse } from '$lib/api/problems';
import { KEEPER } from '$lib/api/tokens';
import { settings } from '../settings';
import { ownsAnything } from '../store/ownership';
import { findPerson, insertPerson, isNameTaken, isOut, type StoredPerson } from '../store/people';
import type { Rows } from '../store/store';
import type { Known } from './provider';

/** A name of letters, digits and signs that a person may have here. */
const plain = (name: string): string =>
  name
    .normalize('NFKD')
    .replace(/@.*$/, '')
    .replaceAll(/[^A-Za-z0-9_.-]+/g, '_')
    .replace(/^[^A-Za-z0-9]+/, '')
    .slice(0, 36) || 'somebody';

/** The person that a provider vouches for; one who comes for the first time is entered, under a name that is free. */
export async function knownPerson(rows: Rows, { subject, name }: Known, now: number): Promise<StoredPerson> {
  const found = await findPerson(rows, { subject });
  if (found) return found;
  if (await isOut(rows, subject)) throw refuse('not-allowed', 'Your access was removed. Ask an administrator.');
  const stem = plain(name);
  let free = stem;
  // by the name of another one he would have what is that one's
  const isAnothers = async (one: string) =>
    one === KEEPER || (await isNameTaken(rows, one)) || (await ownsAnything(rows, one));
  for (let number = 2; await isAnothers(free); number++) free = `${stem}_${number}`;
  const person = { name: free, access: settings.JAUNTY_OIDC_ACCESS, password: null, subject };
  await insertPerson(rows, person, now);
  return person;
}
