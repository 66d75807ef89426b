import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import knex from 'knex';
import { inject } from 'vitest';
import { openPostgresStore } from './postgres/postgresStore';
import { spreadChunks } from './postgres/spreadChunks';
import type { NewTape } from './tapeRows';

declare module 'vitest' {
  export interface ProvidedContext {
    databasePort: number;
    secondDatabasePort: number;
  }
}

/** An empty store for one test. */
export interface TestStore {
  address: string;
  clear: () => Promise<void>;
}

/** Makes empty stores of a kind. */
export type StoreKind = 'a folder' | 'a database server' | 'several database servers';

/** The kinds of stores that this machine can make. */
export const storeKinds = (): StoreKind[] =>
  inject('databasePort') > 0 ? ['a folder', 'a database server', 'several database servers'] : ['a folder'];

const serverAt = (port: number): string => `postgres://jaunty@127.0.0.1:${port}`;

/** An empty database, without tables. */
export async function emptyDatabase(port = inject('databasePort')): Promise<TestStore> {
  const name = `test_${randomUUID().replaceAll('-', '')}`;
  const asked = async (statement: string) => {
    const database = knex({ client: 'pg', connection: `${serverAt(port)}/postgres` });
    await database.raw(statement).finally(() => database.destroy());
  };
  await asked(`create database ${name}`);
  return { address: `${serverAt(port)}/${name}`, clear: () => asked(`drop database ${name} with (force)`) };
}

export async function emptyStore(kind: StoreKind): Promise<TestStore> {
  if (kind === 'a folder') {
    const folder = mkdtempSync(join(tmpdir(), 'jaunty-store-'));
    return { address: `sqlite:${folder}`, clear: async () => rmSync(folder, { recursive: true, force: true }) };
  }
  // all tests of a file share one of each kind: to make one takes a while
  const shared = await (kind === 'a database server' ? (single ??= singleStore()) : (spread ??= spreadStore()));
  return { ...shared, clear: () => emptied(shared.address) };
}

let single: Promise<TestStore> | undefined;
let spread: Promise<TestStore> | undefined;

async function singleStore(): Promise<TestStore> {
  const store = await emptyDatabase();
  await (await openPostgresStore(store.address)).close();
  return store;
}

/** A store whose chunks lie on two servers. */
async function spreadStore(): Promise<TestStore> {
  const main = await emptyDatabase();
  const others = [await emptyDatabase(), await emptyDatabase(inject('secondDatabasePort'))];
  await (await openPostgresStore(main.address)).close();
  await spreadChunks(
    main.address,
    others.map(({ address }) => address),
  );
  return main;
}

async function emptied(address: string): Promise<void> {
  const database = knex({ client: 'pg', connection: address });
  try {
    const { rows } = await database.raw<{ rows: { name: string }[] }>(
      `select quote_ident(relname) as name from pg_class
       where relkind in ('r', 'p') and relnamespace = 'public'::regnamespace and relname not like 'knex%'`,
    );
    await database.raw(`truncate ${rows.map(({ name }) => name).join(', ')}`);
  } finally {
    await database.destroy();
  }
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
