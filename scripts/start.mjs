import { join } from 'node:path';
import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { buildJobs, buildPages, install, requireNode, root } from './prepare.mjs';

try {
  requireNode();
  install();
  prepareSettings();
  buildJobs();
  const demo = makeDemo();
  buildPages();
  await demo;
  await start();
} catch (error) {
  console.error(error.message);
  process.exit(1); // threads may be running already
}

function prepareSettings() {
  process.env.JAUNTY_DATA ??= join(root, 'data');
  process.env.JAUNTY_JOBS ??= join(root, 'app', 'build-jobs');
  process.env.NODE_ENV ??= 'production';
  // the data are for this user alone
  process.umask(0o077);
}

/** Makes the demo world on the first start, in a process of its own: it is done before the pages are built. */
function makeDemo() {
  const { JAUNTY_DATA, JAUNTY_STORE, JAUNTY_DEMO } = process.env;
  if (JAUNTY_STORE !== undefined || JAUNTY_DEMO === 'off' || existsSync(join(JAUNTY_DATA, 'ledger.sqlite'))) return;
  if (existsSync(join(root, 'app', 'build', 'handler.js'))) return; // the server makes it, and nothing waits for it
  const making = spawn(process.execPath, [join(process.env.JAUNTY_JOBS, 'demo.js')], { stdio: 'inherit' });
  // where it fails, the server tries again and reports why
  return new Promise((resolve) => making.once('error', resolve).once('close', resolve));
}

/** Serves the built application from this process. */
async function start() {
  const { address, serve, shutDown } = await import('../app/build-jobs/serve.js');
  // uploads are streamed and limited by the server itself
  process.env.BODY_SIZE_LIMIT = 'Infinity';
  process.env.PROTOCOL_HEADER ??= 'x-forwarded-proto';
  process.env.ORIGIN ??= address();
  const { handler } = await import('../app/build/handler.js');
  const server = await serve(handler);
  console.log(`Jaunty Ledger is open at ${address()}`);
  for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, () => shutDown(server));
}
