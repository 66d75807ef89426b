import { spawn, spawnSync } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { bin, build, buildCommand, findChromium, findPostgres, install, requireNode, root } from './prepare.mjs';

/* Everything that has to hold: types, lint, unit tests, end-to-end tests. Installs what they need first. */

const report = join(root, 'test-results', 'vitest.json');

/** Runs a script of the package; what it prints comes when it is done, so that two of them can run at once. */
function script(name) {
  return new Promise((resolve, reject) => {
    const running = spawn('npm', ['run', '--silent', name], { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] });
    let printed = '';
    for (const stream of [running.stdout, running.stderr]) stream.on('data', (text) => (printed += text));
    running.on('error', reject);
    running.on('close', (status) => {
      console.log(printed.trimEnd());
      if (status === 0) resolve();
      else reject(new Error(`npm run ${name} failed.`));
    });
  });
}

try {
  requireNode();
  install();
  process.env.CHROMIUM = findChromium();
  findPostgres();
  build();
  buildCommand();
  console.log('Types and lint…');
  await Promise.all(['types', 'lint'].map(script));
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
