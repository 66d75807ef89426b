import { createHash } from 'node:crypto';
import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import knex from 'knex';
import type { TestProject } from 'vitest/node';
import { roundRobin } from '../scripts/proxy.mjs';
import { SERVER_ARGUMENTS } from '../scripts/serverArguments.mjs';

declare module 'vitest' {
  export interface ProvidedContext {
    /** What the tests run on, one for each worker of the run: files that run beside each other share no tapes. */
    served: { origin: string; folders: string[] }[];
  }
}

/** A port that nobody listens on. */
export function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.on('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const address = server.address();
      server.close(() => resolve(typeof address === 'object' && address ? address.port : 0));
    });
  });
}

/**
 * Where the tests run: on a store in a folder if not told, on a database server (`postgres`), or there with two servers behind
 * a proxy (`cluster`).
 */
const TOPOLOGY = process.env.E2E_TOPOLOGY;

/** Whether stores are folders, whose files a test may look at. */
export const isInFolder = TOPOLOGY === undefined;

/** The store that stands for a folder: a database of its own. */
export async function databaseOf(folder: string): Promise<string> {
  const server = `postgres://jaunty@127.0.0.1:${process.env.E2E_DATABASE_PORT}`;
  const name = `e2e_${createHash('sha256').update(folder).digest('hex').slice(0, 20)}`;
  const database = knex({ client: 'pg', connection: `${server}/postgres` });
  try {
    const { rows } = await database.raw<{ rows: unknown[] }>('select 1 from pg_database where datname = ?', [name]);
    if (rows.length === 0) await database.raw(`create database ${name}`);
  } finally {
    await database.destroy();
  }
  return `${server}/${name}`;
}

/** A server that was started. */
export interface Served {
  origin: string;
  process: ChildProcess;
  /** What it has printed so far. */
  printed: () => string;
}

/**
 * Starts the application as its users do, with an empty folder, and waits until it says its address.
 * @param heard    told what it has printed so far, each time that it prints
 * @param through  a command that it is started by
 * @throws with what it has printed, where it ends before that
 */
export async function serve(
  folder: string,
  settings: Record<string, string> = {},
  heard: (printed: string, server: ChildProcess) => void = () => undefined,
  through: readonly string[] = [],
): Promise<Served> {
  const port = Number(settings.PORT ?? (await freePort()));
  const root = fileURLToPath(new URL('..', import.meta.url));
  const [program, ...told] = [...through, process.execPath, ...SERVER_ARGUMENTS];
  const server = spawn(program, told, {
    cwd: root,
    env: {
      ...process.env,
      PORT: String(port),
      JAUNTY_DATA: folder,
      JAUNTY_LOG: 'error',
      NODE_ENV: 'production',
      ...(TOPOLOGY && { JAUNTY_STORE: await databaseOf(folder) }),
      ...settings,
    },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let printed = '';
  await new Promise<void>((resolve, reject) => {
    const listen = (data: Buffer) => {
      printed = (printed + data.toString()).slice(-1_000_000);
      heard(printed, server);
      if (printed.includes('is open at')) resolve();
    };
    server.stdout.on('data', listen);
    server.stderr.on('data', listen);
    server.on('exit', (code) => reject(new Error(`the server ended with ${code}:\n${printed}`)));
  });
  return { origin: `http://127.0.0.1:${port}`, process: server, printed: () => printed };
}

export default async function setup({ provide }: TestProject) {
  const workers = Number(process.env.E2E_WORKERS ?? 1);
  const all = await Promise.all(Array.from({ length: workers }, served));
  provide(
    'served',
    all.map(({ origin, folders }) => ({ origin, folders })),
  );
  return () => all.forEach(({ end }) => end());
}

/** Starts what the tests of one worker run on. */
async function served() {
  const folder = mkdtempSync(join(tmpdir(), 'jaunty-e2e-'));
  const cluster = TOPOLOGY === 'cluster' ? await serveCluster(folder) : undefined;
  const servers = cluster?.servers ?? [await serve(folder)];
  let isOver = false;
  for (const { process, printed } of servers)
    process.once('exit', (code, signal) => {
      if (!isOver) console.error(`The server that the tests run on has ended (${code ?? signal}):\n${printed()}`);
    });
  const end = () => {
    isOver = true;
    for (const one of servers) one.process.kill();
    cluster?.proxy.close();
    cluster?.proxy.closeAllConnections();
    rmSync(folder, { recursive: true, force: true });
  };
  return { origin: cluster?.origin ?? servers[0].origin, folders: cluster?.folders ?? [folder], end };
}

/** Two servers on one database, behind a proxy that hands each request to the next of them. */
export async function serveCluster(folder: string, settings: Record<string, string> = {}) {
  const port = await freePort();
  const origin = `http://127.0.0.1:${port}`;
  const JAUNTY_STORE = settings.JAUNTY_STORE ?? (await databaseOf(folder));
  const folders = ['first', 'second'].map((name) => join(folder, name));
  const servers = await Promise.all(folders.map((own) => serve(own, { JAUNTY_STORE, ORIGIN: origin, ...settings })));
  const proxy = await roundRobin(
    servers.map((server) => server.origin),
    port,
  );
  return { origin, servers, proxy, folders };
}
