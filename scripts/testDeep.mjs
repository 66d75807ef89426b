import { bin, build, buildCommand, findChromium, findPostgres, install, requireNode, run } from './prepare.mjs';

/* Run before a release: large simulations whole, properties with new seeds, and thirty kills of each kind of process. */

try {
  requireNode();
  install();
  build();
  buildCommand();
  findPostgres();
  run(bin('vitest'), ['run', ...process.argv.slice(2)], {
    env: { CHROMIUM: findChromium(), TEST_DEEP: '1', KILLS: process.env.KILLS ?? '30' },
  });
} catch (error) {
  console.error(error.message);
  process.exitCode = 1;
}
