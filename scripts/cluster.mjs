import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { build, findPostgres, install, requireNode, root } from './prepare.mjs';
import { startPostgres } from './postgres.mjs';
import { roundRobin } from './proxy.mjs';
import { SERVER_ARGUMENTS } from './serverArguments.mjs';

/*
 * Two servers on one database behind a proxy, and one that works for them, on this machine: what docs/servers.md sets up on
 * several.
 *
 *   npm run cluster                                     a database to throw away
 *   JAUNTY_STORE=postgres://… npm run cluster           one that is there
 */

const PORT = Number(process.env.PORT ?? 4180);
const COUNT = Number(process.env.SERVERS ?? 2);
const WORKERS = Number(process.env.WORKERS ?? 1);

try {
  requireNode();
  install();
  build();
  await start();
} catch (error) {
  console.error(error.message);
  process.exit(1);
}

async function start() {
  let database;
  let store = process.env.JAUNTY_STORE;
  if (store === undefined) {
    if (!findPostgres()) throw new Error('Install PostgreSQL, or set JAUNTY_STORE to a database of one.');
    database = await startPostgres();
    store = database.database('jaunty');
  }
  const servers = [];
  const end = async () => {
    for (const server of servers) server.kill('SIGTERM');
    await Promise.all(servers.map((server) => server.exitCode ?? new Promise((done) => server.once('exit', done))));
    await database?.end();
    process.exit();
  };
  for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, () => void end());
  const targets = [];
  for (let number = 1; number <= COUNT + WORKERS; number++) {
    const env = {
      ...process.env,
      PORT: String(PORT + number),
      ORIGIN: `http://127.0.0.1:${PORT}`,
      JAUNTY_STORE: store,
      JAUNTY_ROLE: number > COUNT ? 'worker' : 'both',
      JAUNTY_DATA: join(process.env.JAUNTY_DATA ?? join(root, 'data'), `server-${number}`),
    };
    const server = spawn(process.execPath, SERVER_ARGUMENTS, { cwd: root, env, stdio: ['ignore', 'pipe', 'inherit'] });
    servers.push(server);
    await new Promise((resolve, reject) => {
      server.stdout.on('data', (text) => {
        process.stdout.write(text);
        if (String(text).includes('is open at')) resolve();
      });
      server.once('exit', (code) => reject(new Error(`Server ${number} ended with ${code}.`)));
    });
    if (number <= COUNT) targets.push(`http://127.0.0.1:${PORT + number}`);
  }
  await roundRobin(targets, PORT);
  console.log(`${COUNT} servers and ${WORKERS} that work for them are behind http://127.0.0.1:${PORT}`);
}
