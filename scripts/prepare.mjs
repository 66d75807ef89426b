import { createHash } from 'node:crypto';
import { execFileSync, spawnSync } from 'node:child_process';
import { chmodSync, existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { postgresPrograms } from './postgres.mjs';

/* What has to be there before the application runs: packages, then the built parts. Each is made anew only when what it
   is made from has changed since, which a stamp with the hash of that tells. Only Node's own modules are used here. */

export const root = fileURLToPath(new URL('..', import.meta.url));
const stamps = join(root, '.stamps');

const MIN_NODE = [20, 19];

export function requireNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major > MIN_NODE[0] || (major === MIN_NODE[0] && minor >= MIN_NODE[1])) return;
  throw new Error(`Jaunty Ledger runs on Node ${MIN_NODE.join('.')} or later; this is Node ${process.versions.node}.`);
}

/** Runs a program in the project's folder. @throws where it fails, with what it printed if it was quiet until then */
export function run(command, args, { quiet = false, cwd = root, env = {} } = {}) {
  const result = spawnSync(command, args, {
    cwd,
    env: { ...process.env, ...env },
    stdio: quiet ? ['ignore', 'pipe', 'pipe'] : ['ignore', 'inherit', 'inherit'],
    maxBuffer: 64 << 20,
  });
  if (result.error) throw result.error;
  if (result.status === 0) return;
  const printed = quiet ? `\n${result.stdout}${result.stderr}` : '';
  throw new Error(`${command} ${args.join(' ')} failed.${printed}`);
}

/** A program that a package brings. */
export const bin = (name) => join(root, 'node_modules', '.bin', name);

const SKIPPED = new Set([
  'node_modules',
  'dist',
  'build',
  'build-jobs',
  '.svelte-kit',
  '.git',
  'reference',
  'screenshots',
  'data',
]);

/** Hash over the names, sizes and times of all files below some paths. */
function hashOf(paths) {
  const hash = createHash('sha256');
  const walk = (path) => {
    if (!existsSync(path)) return;
    const info = statSync(path);
    if (info.isDirectory()) {
      for (const name of readdirSync(path).sort()) if (!SKIPPED.has(name)) walk(join(path, name));
    } else if (!path.endsWith('.tsbuildinfo')) hash.update(`${path} ${info.size} ${info.mtimeMs}\n`);
  };
  for (const path of paths) walk(join(root, path));
  return hash.digest('hex');
}

/** Does `make` unless nothing it stands on has changed and what it makes is there. */
function once(name, hash, made, make) {
  const stamp = join(stamps, name);
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === hash && existsSync(join(root, made))) return;
  make();
  mkdirSync(stamps, { recursive: true });
  writeFileSync(stamp, hash);
}

/** Installs the packages of the lock file. */
export function install(say = console.log) {
  const hash = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .update(process.version)
    .digest('hex');
  once('install', hash, 'node_modules/.package-lock.json', () => {
    say('Installing packages…');
    // no package needs its install script: binaries come inside packages
    run('npm', ['ci', '--no-audit', '--no-fund', '--ignore-scripts', '--loglevel=error']);
  });
}

/** Compiles the core, the files and the demo, for types and for scripts; what is bundled takes their sources. */
export function buildLibraries(say = console.log) {
  once(
    'libraries',
    hashOf([
      'core/src',
      'core/tsconfig.json',
      'files/src',
      'files/tsconfig.json',
      'demo/src',
      'demo/tsconfig.json',
      'tsconfig.base.json',
      'package-lock.json',
    ]),
    'demo/dist/index.js',
    () => {
      say('Building the libraries…');
      run(bin('tsc'), ['-b', 'core', 'files', 'demo']);
    },
  );
}

const SOURCES = ['core/src', 'files/src', 'demo/src', 'scripts/sourceAliases.mjs', 'package-lock.json'];

/** Builds the server's worker programs, and what stands before the framework. */
export function buildJobs(say = console.log) {
  const sources = ['app/src/lib', 'app/vite.jobs.config.ts'];
  once('jobs', hashOf([...SOURCES, ...sources]), 'app/build-jobs/serve.js', () => {
    say('Building the worker programs…');
    const cwd = join(root, 'app');
    run(bin('svelte-kit'), ['sync'], { cwd, quiet: true }); // makes the tsconfig that the bundler reads
    run(bin('vite'), ['build', '-c', 'vite.jobs.config.ts', '--logLevel', 'warn'], { cwd, quiet: true });
  });
}

/** Builds the pages and routes of the server. */
export function buildPages(say = console.log) {
  once('pages', hashOf([...SOURCES, 'app']), 'app/build/handler.js', () => {
    say('Building the application…');
    run(bin('vite'), ['build', '--logLevel', 'error'], { cwd: join(root, 'app'), quiet: true });
  });
}

/** Builds everything that the server needs. */
export function build(say = console.log) {
  buildJobs(say);
  buildPages(say);
}

/** Builds the command line: files that need nothing beside Node. */
export function buildCommand(say = console.log) {
  const sources = ['cli/src', 'cli/vite.config.ts', 'app/src/lib', 'app/src/app.css'];
  once('cli', hashOf([...SOURCES, ...sources]), 'cli/dist/jaunty.js', () => {
    say('Building the command line…');
    const cwd = join(root, 'cli');
    run(bin('vite'), ['build', '--logLevel', 'warn'], { cwd, quiet: true });
    chmodSync(join(cwd, 'dist', 'jaunty.js'), 0o755);
  });
}

/** The Chromium that tests drive; on Debian, as root, it is installed where it is missing. */
export function findChromium(say = console.log) {
  const known = process.env.CHROMIUM ?? ['chromium', 'chromium-browser', 'google-chrome'].map(which).find(Boolean);
  if (known) return known;
  const advice =
    'The end-to-end tests need Chromium. On Debian: apt-get install chromium. Elsewhere: install it and set CHROMIUM to its path.';
  if (!canInstall()) throw new Error(advice);
  say('Installing Chromium from the packages of the system…');
  installPackage('chromium');
  const installed = which('chromium');
  if (!installed) throw new Error(advice);
  return installed;
}

/** The folder of PostgreSQL's programs; installed as Chromium is. Where it cannot be, its tests are left out. */
export function findPostgres(say = console.log) {
  const known = postgresPrograms();
  if (known) return known;
  const advice = 'PostgreSQL is not on this machine: the tests of stores on a database server are left out.';
  try {
    if (canInstall()) {
      say('Installing PostgreSQL from the packages of the system…');
      installPackage('postgresql');
    }
  } catch (error) {
    say(error.message);
  }
  const installed = postgresPrograms();
  if (!installed) say(advice);
  return installed;
}

const canInstall = () => process.getuid?.() === 0 && which('apt-get') !== undefined;

function installPackage(name) {
  const env = { DEBIAN_FRONTEND: 'noninteractive' };
  run('apt-get', ['update', '-qq'], { quiet: true, env });
  run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', name], { quiet: true, env });
}

function which(name) {
  try {
    return execFileSync('which', [name], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] }).trim();
  } catch {
    return undefined; // it is not there
  }
}
