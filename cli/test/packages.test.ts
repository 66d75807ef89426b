import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { expect, it } from 'vitest';

/* The packages, as others get them: what their first page shows runs, and nothing is packed that is not theirs. */

const root = fileURLToPath(new URL('../..', import.meta.url));

it.each([
  ['core', '[ 78.6, 78.1, 78.3 ] [ NaN, 78.35, 78.19999999999999 ] 2\n'],
  ['files', '3 [ 78.4, 78.6 ]\n'],
])('%s does what its first page says', (name, printed) => {
  const example = /```js\n(.*?)```/s.exec(readFileSync(`${root}/${name}/README.md`, 'utf8'))![1];
  expect(execFileSync(process.execPath, ['--input-type=module', '-e', example], { cwd: root, encoding: 'utf8' })).toBe(
    printed,
  );
});

it.each(['core', 'files', 'cli'])('%s packs its code, its pages and its licence', (name) => {
  const [{ files }] = JSON.parse(
    execFileSync('npm', ['pack', '--dry-run', '--json'], { cwd: `${root}/${name}`, encoding: 'utf8' }),
  ) as [{ files: { path: string }[] }];
  const others = files.map(({ path }) => path).filter((path) => !/^dist\/.*\.(js|d\.ts|map|txt)$/.test(path));
  const pages = ['CHANGELOG.md', 'LICENSE', 'README.md', ...(name === 'cli' ? [] : ['REFERENCE.md']), 'package.json'];
  expect(others.sort()).toEqual(pages);
});
