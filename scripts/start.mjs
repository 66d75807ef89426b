import { join } from 'node:path';
import { build, install, requireNode, root } from './prepare.mjs';

try {
  requireNode();
  install();
  build();
  await start();
} catch (error) {
  console.error(error.message);
  process.exit(1); // threads may be running already
}

/** Serves the built application from this process. */
async function start() {
  process.env.JAUNTY_DATA ??= join(root, 'data');
  process.env.JAUNTY_JOBS ??= join(root, 'app', 'build-jobs');
  process.env.NODE_ENV ??= 'production';
  // what is kept is for this user's eyes alone
  process.umask(0o077);
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
