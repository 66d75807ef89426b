import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { availableParallelism, constants, setPriority, tmpdir } from 'node:os';
import { join } from 'node:path';
import { CHROMIUM_FLAGS } from './chromiumFlags.mjs';
import { WITHOUT_FSYNC, startPostgres } from './postgres.mjs';
import { bin, build, buildCommand, findChromium, findPostgres, install, requireNode, root } from './prepare.mjs';

/* Everything that has to hold: types, lint, unit tests, end-to-end tests. Installs what they need first. */

const reports = join(root, 'test-results');

const children = new Set();
/** Starts a program that is ended with this one. */
function start(...command) {
  const child = spawn(...command);
  children.add(child);
  child.once('close', () => children.delete(child));
  return child;
}

/**
 * Runs the tests of some projects, `atOnce` files at a time.
 * @returns how many have passed, and how many have failed
 */
async function test(projects, atOnce, { only = [], env = {} } = {}) {
  const report = join(reports, `${[projects[0], ...only].join('-').replaceAll(/\W+/g, '-')}.json`);
  const named = projects.flatMap((project) => ['--project', project]);
  const reporters = ['--reporter=default', '--reporter=json', `--outputFile.json=${report}`];
  const running = start(bin('vitest'), ['run', `--maxWorkers=${atOnce}`, ...named, ...reporters, ...only], {
    ...{ cwd: root, stdio: ['ignore', 'inherit', 'inherit'], env: { ...process.env, ...env } },
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

/** What all tests share, by the environment: one Chromium, and two database servers where PostgreSQL is there. */
async function startShared() {
  const { default: puppeteer } = await import('puppeteer-core');
  const profile = mkdtempSync(join(tmpdir(), 'jaunty-browser-'));
  const executablePath = findChromium();
  const databases = findPostgres()
    ? await Promise.all([1, 2].map(() => startPostgres({ settings: WITHOUT_FSYNC })))
    : undefined;
  const browser = await puppeteer.launch({ executablePath, userDataDir: profile, args: CHROMIUM_FLAGS });
  process.env.CHROMIUM = executablePath;
  process.env.E2E_BROWSER = browser.wsEndpoint();
  process.env.E2E_DATABASES = databases?.map(({ port }) => port).join(',') ?? '0,0';
  return async () => {
    await Promise.all([browser.close(), ...(databases ?? []).map((database) => database.end())]);
    rmSync(profile, { recursive: true, force: true });
  };
}

let endShared;
try {
  requireNode();
  install();
  // needs nothing that is built, and builds leave a processor free
  const lint = script('lint');
  lint.catch(() => undefined); // reported where it is awaited
  const types = script('types');
  types.catch(() => undefined);
  build();
  buildCommand();
  endShared = await startShared();
  rmSync(reports, { recursive: true, force: true });
  console.log('Tests…');
  // on two processors a second page would only slow down the first
  const pages = availableParallelism() >= 4 ? 2 : 1;
  // servers and browsers leave processors free now and then: unit tests have what they leave, and do not slow them down
  const running = [
    test(['e2e'], pages, { env: { E2E_WORKERS: String(pages) } }),
    test(['servers'], 1, { env: { NETWORK_TESTS: 'later' } }),
  ];
  setPriority(0, constants.priority.PRIORITY_LOW);
  running.push(test(['core', 'files', 'app', 'cli'], 2));
  const [results] = await Promise.all([Promise.all(running), lint, types]);
  results.push(await test(['servers'], 1, { only: ['clusterFaults', '-t', 'cut off from the network'] }));
  const sum = (name) => results.reduce((total, result) => total + result[name], 0);
  console.log(`${sum('passed')} passed, ${sum('failed')} failed`);
  process.exitCode = sum('failed') > 0 ? 1 : 0;
} catch (error) {
  for (const child of children) child.kill();
  console.error(error.message);
  console.log('0 passed, 1 failed');
  process.exitCode = 1;
} finally {
  await endShared?.();
}
