import { rfc3339 } from '@jaunty-ledger/core';
import type { Person } from '$lib/api/people';
import type { Access } from '$lib/api/tokens';
import { deleteSessionsOf } from './sessions';
import { KeyTakenError, type Rows } from './store';

interface PersonRow {
  name: string;
  access: Access;
  password: string | null;
  subject: string | null;
  /** 0 or 1. */
  is_out: number;
  made_at: number;
  used_at: number | null;
}

/** Somebody as the server knows him. */
export type StoredPerson = Pick<PersonRow, 'name' | 'access' | 'password' | 'subject'>;

/** Those who are let in. */
const people = (rows: Rows) => rows<PersonRow>('person').where({ is_out: 0 });

export async function listPeople(rows: Rows): Promise<Person[]> {
  return (await people(rows).orderBy('name')).map(toPerson);
}

export const findPerson = (rows: Rows, by: { name: string } | { subject: string }): Promise<StoredPerson | undefined> =>
  people(rows).where(by).first('name', 'access', 'password', 'subject');

/** Whether somebody whom a provider vouches for is let in no more. */
export const isOut = async (rows: Rows, subject: string): Promise<boolean> =>
  (await rows<PersonRow>('person').where({ subject, is_out: 1 }).first('name')) !== undefined;

/** Whether a person or a token has a name: what was done under it is told by it. */
export async function isNameTaken(rows: Rows, name: string): Promise<boolean> {
  const [person, token] = await Promise.all(
    ['person', 'access_token'].map((table) => rows(table).where({ name }).first('name')),
  );
  return person !== undefined || token !== undefined;
}

/**
 * Lets somebody in. Who was taken out under this name comes back by it, also by way of his provider.
 * @throws {KeyTakenError} where another person or a token has the name
 */
export async function insertPerson(rows: Rows, person: StoredPerson, madeAt: number): Promise<Person> {
  const { name, access, password } = person;
  if ((await rows<PersonRow>('person').where({ name, is_out: 1 }).update({ access, password, is_out: 0 })) > 0)
    return toPerson((await people(rows).where({ name }).first())!);
  if (await isNameTaken(rows, person.name)) throw new KeyTakenError('a person or a token has the name already');
  const row = { ...person, is_out: 0, made_at: madeAt, used_at: null };
  await rows<PersonRow>('person').insert(row);
  return toPerson(row);
}

/** @returns whether there is such a person */
export async function changePerson(
  rows: Rows,
  name: string,
  change: Partial<Pick<PersonRow, 'access' | 'password'>>,
): Promise<boolean> {
  return (await people(rows).where({ name }).update(change)) > 0;
}

export async function noteSignIn(rows: Rows, name: string, at: number): Promise<void> {
  await rows<PersonRow>('person').where({ name }).update({ used_at: at });
}

/**
 * Takes somebody out: he is let in no more, whoever vouches for him. What is his stays, and so his name is nobody else's.
 * @returns whether there is such a person
 */
export async function takeOut(rows: Rows, name: string): Promise<boolean> {
  if ((await people(rows).where({ name }).update({ is_out: 1, password: null })) === 0) return false;
  await deleteSessionsOf(rows, name);
  return true;
}

const toPerson = ({ name, access, password, made_at, used_at }: PersonRow): Person => ({
  name,
  access,
  signsIn: password === null ? 'elsewhere' : 'here',
  madeAt: rfc3339(made_at),
  usedAt: used_at === null ? null : rfc3339(used_at),
});
