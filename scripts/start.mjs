import { join } from 'node:path';
import { build, install, requireNode, root } from './prepare.mjs';

try {
  requireNode();
  install();
  build();
  await serve();
} catch (error) {
  console.error(error.message);
  process.exitCode = 1;
}

/** Serves the built application from this process. */
async function serve() {
  process.env.JAUNTY_DATA ??= join(root, 'data');
  process.env.JAUNTY_JOBS ??= join(root, 'app', 'build-jobs');
  process.env.HOST ??= '127.0.0.1';
  process.env.PORT ??= '4180';
  process.env.NODE_ENV ??= 'production';
  // uploads are streamed and limited by the server itself
  process.env.BODY_SIZE_LIMIT = 'Infinity';
  process.env.SHUTDOWN_TIMEOUT ??= '2';
  process.env.PROTOCOL_HEADER ??= 'x-forwarded-proto';
  process.env.ORIGIN ??= `http://${process.env.HOST}:${process.env.PORT}`;
  if (process.env.JAUNTY_DEMO !== 'off') {
    const { makeDemo } = await import('../app/build-jobs/makeDemo.js');
    const started = Date.now();
    let isFirst = true;
    const made = await makeDemo((line) => {
      if (isFirst) console.log('Making the demo world, the Tarn Harbour Exchange…');
      isFirst = false;
      console.log(line);
    });
    if (made) console.log(`The demo world is ready after ${((Date.now() - started) / 1000).toFixed(1)} s.`);
  }
  await import('../app/build/index.js');
  console.log(`Jaunty Ledger is open at http://${process.env.HOST}:${process.env.PORT}`);
}
