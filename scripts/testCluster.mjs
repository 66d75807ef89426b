import { bin, build, buildCommand, findChromium, findPostgres, install, requireNode, run } from './prepare.mjs';

/* All end-to-end tests on two servers, one database and a proxy; `npm test` has a shorter run of its own. */

try {
  requireNode();
  install();
  build();
  buildCommand();
  if (!findPostgres()) throw new Error('These tests need PostgreSQL.');
  run(bin('vitest'), ['run', '--project', 'e2e', '--project', 'servers', ...process.argv.slice(2)], {
    env: { CHROMIUM: findChromium(), E2E_TOPOLOGY: 'cluster' },
  });
} catch (error) {
  console.error(error.message);
  process.exitCode = 1;
}
