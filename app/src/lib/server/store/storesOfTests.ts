import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import knex from 'knex';
import { inject } from 'vitest';
import type { NewTape } from './tapes';

declare module 'vitest' {
  export interface ProvidedContext {
    databasePort: number;
  }
}

/** An empty store for one test. */
export interface TestStore {
  address: string;
  clear: () => Promise<void>;
}

/** Makes empty stores of a kind. */
export type StoreKind = 'a folder' | 'a database server';

/** The kinds of stores that this machine can make. */
export const storeKinds = (): StoreKind[] =>
  inject('databasePort') > 0 ? ['a folder', 'a database server'] : ['a folder'];

export async function emptyStore(kind: StoreKind): Promise<TestStore> {
  if (kind === 'a folder') {
    const folder = mkdtempSync(join(tmpdir(), 'jaunty-store-'));
    return { address: `sqlite:${folder}`, clear: async () => rmSync(folder, { recursive: true, force: true }) };
  }
  const name = `test_${randomUUID().replaceAll('-', '')}`;
  const server = `postgres://jaunty@127.0.0.1:${inject('databasePort')}`;
  const asked = async (statement: string) => {
    const database = knex({ client: 'pg', connection: `${server}/postgres` });
    await database.raw(statement).finally(() => database.destroy());
  };
  await asked(`create database ${name}`);
  return { address: `${server}/${name}`, clear: () => asked(`drop database ${name} with (force)`) };
}

/** A tape of some records, or of none. */
export const testTape = (name: string, generationId = ''): NewTape => ({
  name,
  kind: 'ticks',
  zone: 'Atlantic/Faroe',
  calendar: null,
  tags: [],
  session: '08:30-16:30',
  weekdays: ['Mon', 'Tue'],
  closed: ['2026-02-03'],
  closeIncluded: false,
  interval: null,
  rows: 4,
  flagged: 0,
  firstAt: 0,
  lastAt: 30,
  columns: ['time', 'price', 'line', 'flags'],
  texts: [{ name: 'venue', title: 'Venue', column: 'text:venue', words: ['X', 'Y'] }],
  numbers: [],
  precision: 'moment',
  generationId,
  priceDecimals: 2,
  sizeDecimals: 0,
  spark: [1, 2],
  note: '',
  unit: 'kr',
  report: {
    file: 'a.csv',
    bytes: 9,
    sha256: '',
    lines: 4,
    reading: null,
    findings: [],
    leftOutCount: 0,
    enteredAt: '',
  },
});
