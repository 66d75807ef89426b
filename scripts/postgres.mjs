import { spawn, spawnSync } from 'node:child_process';
import { chmodSync, chownSync, existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';

/* A PostgreSQL of its own to throw away, for tests and measurements. */

const PACKAGES = '/usr/lib/postgresql';

/** The folder of PostgreSQL's programs; undefined where it is not on this machine. */
export function postgresPrograms() {
  const known = process.env.POSTGRES_BIN;
  if (known) return known;
  const versions = existsSync(PACKAGES) ? readdirSync(PACKAGES).sort((a, b) => Number(b) - Number(a)) : [];
  const folders = [
    ...versions.map((version) => join(PACKAGES, version, 'bin')),
    ...(process.env.PATH ?? '').split(':'),
  ];
  return folders.find((folder) => existsSync(join(folder, 'initdb')) && existsSync(join(folder, 'postgres')));
}

/** It does not run as root: then as the user that its package brings, or as nobody. */
function userOfServer() {
  if (process.getuid?.() !== 0) return {};
  const numbers = (name, option) => {
    const { stdout, status } = spawnSync('id', [option, name], { encoding: 'utf8' });
    return status === 0 ? Number(stdout) : undefined;
  };
  const name = ['postgres', 'nobody'].find((user) => numbers(user, '-u') !== undefined);
  return { uid: numbers(name, '-u'), gid: numbers(name, '-g') };
}

function freePort() {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.on('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address();
      server.close(() => resolve(port));
    });
  });
}

/** Settings of a server that is quick: its data are kept when it is killed, but not when the machine loses power. */
export const WITHOUT_FSYNC = { fsync: 'off', full_page_writes: 'off' };

/**
 * Starts a database server with a folder of its own, which goes with it.
 * @param settings   of the server
 * @param parent     the folder that its own is made in
 * @param standbyOf  the address of a database server whose changes it follows; an empty server without
 */
export async function startPostgres({ settings = {}, parent = tmpdir(), standbyOf } = {}) {
  const programs = postgresPrograms();
  if (!programs) throw new Error('PostgreSQL is not on this machine. On Debian: apt-get install postgresql.');
  const user = userOfServer();
  const folder = mkdtempSync(join(parent, 'jaunty-postgres-'));
  const data = join(folder, 'data');
  mkdirSync(data);
  for (const path of [folder, data]) {
    if (user.uid !== undefined) chownSync(path, user.uid, user.gid);
    chmodSync(path, 0o700);
  }
  const env = { ...process.env, LC_ALL: 'C.UTF-8', HOME: folder };
  const [program, ...options] = standbyOf
    ? ['pg_basebackup', '-D', data, '-d', standbyOf, '-R', '-X', 'stream', '--checkpoint=fast', '--no-sync']
    : ['initdb', '-D', data, '-U', 'jaunty', '-A', 'trust', '-E', 'UTF8', '--no-sync'];
  const made = spawnSync(join(programs, program), options, { ...user, env, cwd: folder, encoding: 'utf8' });
  if (made.status !== 0) throw new Error(`${program} failed: ${made.error?.message ?? made.stderr}`);
  const port = await freePort();
  const told = {
    port,
    listen_addresses: '127.0.0.1',
    unix_socket_directories: folder,
    max_connections: 200,
    ...settings,
  };
  let server;
  const addressOf = (database) => `postgres://jaunty@127.0.0.1:${port}/${database}`;

  const runs = () => server !== undefined && server.exitCode === null && server.signalCode === null;

  /** Starts it, unless it runs. */
  async function start() {
    if (runs()) return;
    let printed = '';
    const options = Object.entries(told).flatMap(([name, value]) => ['-c', `${name}=${value}`]);
    server = spawn(join(programs, 'postgres'), ['-D', data, ...options], {
      ...user,
      env,
      cwd: folder,
      stdio: ['ignore', 'ignore', 'pipe'],
    });
    server.stderr.on('data', (text) => (printed = (printed + text).slice(-10_000)));
    for (let tries = 0; tries < 300; tries++) {
      if (server.exitCode !== null) throw new Error(`PostgreSQL ended with ${server.exitCode}: ${printed}`);
      const { status } = spawnSync(join(programs, 'pg_isready'), ['-q', '-h', '127.0.0.1', '-p', String(port)]);
      if (status === 0) return;
      await setTimeout(50);
    }
    throw new Error(`PostgreSQL did not answer: ${printed}`);
  }

  /** @param how  `fast` breaks connections off, `kill` is a power cut */
  async function stop(how = 'fast') {
    const gone = new Promise((resolve) => server.once('exit', resolve));
    server.kill(how === 'kill' ? 'SIGQUIT' : 'SIGINT');
    await gone;
  }

  await start();
  return {
    port,
    addressOf,
    start,
    stop,
    /** Makes an empty database. @returns its address */
    database: (name) => {
      const made = spawnSync(
        join(programs, 'createdb'),
        ['-h', '127.0.0.1', '-p', String(port), '-U', 'jaunty', name],
        {
          encoding: 'utf8',
        },
      );
      if (made.status !== 0) throw new Error(made.stderr);
      return addressOf(name);
    },
    end: async () => {
      if (runs()) await stop();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
