import { existsSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';

/* What ships, and what builds it, is free software; what a package brings with it too. */

const root = fileURLToPath(new URL('../..', import.meta.url));

interface Locked {
  license?: string;
  dev?: boolean;
  link?: boolean;
  dependencies?: Record<string, string>;
  devDependencies?: Record<string, string>;
}
const { packages } = JSON.parse(readFileSync(`${root}/package-lock.json`, 'utf8')) as {
  packages: Record<string, Locked>;
};

/** Licences under which anything may ship. The fonts have one of their own kind. */
const FREE = new Set([
  'MIT',
  'ISC',
  '0BSD',
  'BSD-2-Clause',
  'BSD-3-Clause',
  'Apache-2.0',
  'BlueOak-1.0.0',
  'BSL-1.0',
  'OFL-1.1',
]);
/** Licences of tools beside those: nothing of them goes into what is served. */
const FREE_FOR_TOOLS = new Set([...FREE, 'MPL-2.0', 'CC-BY-4.0', 'CC0-1.0', 'Python-2.0', 'Unlicense']);

/** A licence that may be chosen among several is free if one of them is. */
const isFree = (licence: string, free: ReadonlySet<string>): boolean =>
  licence
    .replaceAll(/[()]/g, '')
    .split(' OR ')
    .some((choice) => choice.split(' AND ').every((part) => free.has(part.trim())));

const named = Object.entries(packages).filter(([path, { link }]) => path.includes('node_modules/') && !link);

function licenceOf(path: string, { license }: Locked): string {
  if (license) return license;
  const file = `${root}/${path}/package.json`;
  const told = existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as { license?: unknown }).license : undefined;
  return typeof told === 'string' ? told : 'none told';
}

/** Packages that the workspaces need to run, and what those need. */
function shipped(): Set<string> {
  const found = new Set<string>();
  const waiting = ['app', 'core', 'demo'].map((path) => ({ path, name: '' }));
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    for (const name of Object.keys(packages[next.path]?.dependencies ?? {})) {
      // the nearest folder of packages above that has it
      const parts = next.path.split('/node_modules/');
      const places = parts.map(
        (_, at) => `${parts.slice(0, parts.length - at).join('/node_modules/')}/node_modules/${name}`,
      );
      const path = [...places, `node_modules/${name}`].find((place) => packages[place]);
      if (path === undefined || found.has(path)) continue;
      found.add(path);
      waiting.push({ path, name });
    }
  }
  return found;
}

describe('licences', () => {
  const ships = shipped();

  it('of everything that ships are on a short list', () => {
    expect(ships.size).toBeGreaterThan(40);
    const others = [...ships]
      .filter((path) => !packages[path].link)
      .map((path) => `${path}: ${licenceOf(path, packages[path])}`)
      .filter((line) => !isFree(line.split(': ')[1], FREE));
    expect(others).toEqual([]);
  });

  it('of everything that is installed are on a slightly longer one', () => {
    expect(named.length).toBeGreaterThan(300);
    const others = named
      .map(([path, locked]) => `${path}: ${licenceOf(path, locked)}`)
      .filter((line) => !isFree(line.split(': ')[1], FREE_FOR_TOOLS));
    expect(others).toEqual([]);
  });

  it('are not those of charting packages, which do not come in at all', () =>
    expect(named.filter(([path]) => /chart/i.test(path)).map(([path]) => path)).toEqual([]));

  it('of tools are not what the application needs to run', () => {
    const tools = /^(vite|@sveltejs\/|@tailwindcss\/|tailwindcss|svelte-check|typescript|eslint|vitest)/;
    for (const workspace of ['app', 'core', 'demo'])
      expect(Object.keys(packages[workspace].dependencies ?? {}).filter((name) => tools.test(name))).toEqual([]);
  });
});
