import { build, buildLibraries, install, requireNode } from './prepare.mjs';

/* Measures, and writes the table of docs/performance.md. Figures of one run are compared with each other only. */

try {
  requireNode();
  install();
  build();
  buildLibraries();
  const { bench } = await import('../bench/bench.mjs');
  await bench();
} catch (error) {
  console.error(error.message);
  process.exitCode = 1;
}
