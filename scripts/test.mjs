import { spawn } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { constants, setPriority } from 'node:os';
import { join } from 'node:path';
import { bin, build, buildCommand, findChromium, findPostgres, install, requireNode, root } from './prepare.mjs';

/* Everything that has to hold: types, lint, unit tests, end-to-end tests. Installs what they need first. */

const reports = join(root, 'test-results');

const children = new Set();
/** Starts a program whose end is waited for. */
function start(...told) {
  const child = spawn(...told);
  children.add(child);
  child.once('close', () => children.delete(child));
  return child;
}

/** Runs the tests of some projects, so many files at once. @returns how many have passed, and how many have not */
async function test(projects, atOnce) {
  const report = join(reports, `${projects[0]}.json`);
  const named = projects.flatMap((project) => ['--project', project]);
  const reporters = ['--reporter=default', '--reporter=json', `--outputFile.json=${report}`];
  const running = start(bin('vitest'), ['run', `--maxWorkers=${atOnce}`, ...named, ...reporters], {
    ...{ cwd: root, stdio: ['ignore', 'inherit', 'inherit'] },
  });
  const status = await new Promise((resolve, reject) => running.once('error', reject).once('close', resolve));
  const { numPassedTests, numFailedTests, numFailedTestSuites, numTotalTests } = JSON.parse(
    readFileSync(report, 'utf8'),
  );
  if (numTotalTests === 0) throw new Error(`No test was run of ${projects.join(', ')}.`);
  // a file that could not be loaded has no tests to count, but has failed all the same
  return { passed: numPassedTests, failed: Math.max(numFailedTests, numFailedTestSuites > 0 || status !== 0 ? 1 : 0) };
}

/** Runs a script of the package; what it prints comes when it is done, so that two of them can run at once. */
function script(name) {
  return new Promise((resolve, reject) => {
    const running = start('npm', ['run', '--silent', name], { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] });
    setPriority(running.pid, constants.priority.PRIORITY_LOW);
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
  // stands on nothing that is built, and builds leave a processor free
  const lint = script('lint');
  lint.catch(() => undefined); // told of where it is waited for
  build();
  buildCommand();
  rmSync(reports, { recursive: true, force: true });
  console.log('Tests…');
  // servers and browsers leave processors free now and then: all else has what they leave, and does not slow them down
  const running = [test(['e2e'], 1), test(['servers'], 1)];
  setPriority(0, constants.priority.PRIORITY_LOW);
  running.push(test(['core', 'files', 'app', 'cli'], 2));
  const [found] = await Promise.all([Promise.all(running), lint, script('types')]);
  const sum = (what) => found.reduce((total, run) => total + run[what], 0);
  console.log(`${sum('passed')} passed, ${sum('failed')} failed`);
  process.exitCode = sum('failed') > 0 ? 1 : 0;
} catch (error) {
  for (const child of children) child.kill();
  console.error(error.message);
  console.log('0 passed, 1 failed');
  process.exitCode = 1;
}
