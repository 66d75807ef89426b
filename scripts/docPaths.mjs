import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync, readdirSync } from 'node:fs';
import { dirname, join } from 'node:path';

/* Fails if a page of the documentation names a file or folder of the project that does not exist. */

const listed = (pattern) =>
  execFileSync('git', ['ls-files', pattern], { encoding: 'utf8' }).split('\n').filter(Boolean);
const pages = listed('*.md').filter((page) => !/CHANGELOG|REFERENCE/.test(page));
const roots = readdirSync('.', { withFileTypes: true }).flatMap((entry) => (entry.isDirectory() ? entry.name : []));

/** Paths in code spans that begin with a folder of the project, and the targets of links. */
function pathsIn(page) {
  const text = readFileSync(page, 'utf8');
  const links = [...text.matchAll(/\]\((?!\w+:|#|\/)([^)\s#]+)/g)].map(([, path]) => join(dirname(page), path));
  const spans = [...text.matchAll(/`([\w.-]+\/[\w./-]*)`/g)].map(([, path]) => path);
  return [...links, ...spans.filter((path) => roots.includes(path.split('/')[0]))];
}

const built = /(^|\/)(dist|build|build-jobs|data|node_modules|test-results)(\/|$)/;
const missing = pages.flatMap((page) =>
  pathsIn(page)
    .filter((path) => !existsSync(path) && !built.test(path))
    .map((path) => `${page} names ${path}, which does not exist.`),
);
for (const line of missing) console.error(line);
process.exitCode = missing.length > 0 ? 1 : 0;
