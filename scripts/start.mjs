import { createServer } from 'node:http';
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
  const { handler } = await import('../app/build/handler.js');
  const server = createServer((request, response) => {
    // the framework hands on no body without a type; a file that a program sends often has none
    request.headers['content-type'] ??= 'application/octet-stream';
    // only a page of its own may share memory with its workers, which is how they learn that they should stop
    response.setHeader('cross-origin-opener-policy', 'same-origin');
    response.setHeader('cross-origin-embedder-policy', 'require-corp');
    handler(request, response);
  });
  server.on('error', (error) => {
    console.error(
      error.code === 'EADDRINUSE' ? `Port ${process.env.PORT} is taken. Set PORT to another one.` : error.message,
    );
    process.exit(1);
  });
  server.listen(Number(process.env.PORT), process.env.HOST, () =>
    console.log(`Jaunty Ledger is open at http://${process.env.HOST}:${process.env.PORT}`),
  );
  for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, () => shutDown(server));
}

/** Lets what is under way end, for a moment, then goes. */
function shutDown(server) {
  server.close(() => process.exit(0));
  server.closeIdleConnections();
  process.emit('sveltekit:shutdown');
  setTimeout(() => process.exit(0), 2000).unref();
}
