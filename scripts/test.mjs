import { spawnSync } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { bin, build, buildCommand, findChromium, findPostgres, install, requireNode, root, run } from './prepare.mjs';

/* Everything that has to hold: types, lint, unit tests, end-to-end tests. Installs what they need first. */

const report = join(root, 'test-results', 'vitest.json');

try {
  requireNode();
  install();
  process.env.CHROMIUM = findChromium();
  findPostgres();
  build();
  buildCommand();
  console.log('Types…');
  run('npm', ['run', '--silent', 'types']);
  console.log('Lint…');
  run('npm', ['run', '--silent', 'lint']);
  console.log('Tests…');
  rmSync(report, { force: true });
  const vitest = spawnSync(
    bin('vitest'),
    ['run', '--reporter=default', '--reporter=json', `--outputFile.json=${report}`],
    {
      cwd: root,
      stdio: ['ignore', 'inherit', 'inherit'],
    },
  );
  const { numPassedTests, numFailedTests, numFailedTestSuites, numTotalTests } = JSON.parse(
    readFileSync(report, 'utf8'),
  );
  // a file that could not be loaded has no tests to count, but has failed all the same
  const failed = Math.max(numFailedTests, numFailedTestSuites > 0 || vitest.status !== 0 ? 1 : 0);
  if (numTotalTests === 0) throw new Error('No test was run.');
  console.log(`${numPassedTests} passed, ${failed} failed`);
  process.exitCode = failed > 0 ? 1 : 0;
} catch (error) {
  console.error(error.message);
  console.log('0 passed, 1 failed');
  process.exitCode = 1;
}
