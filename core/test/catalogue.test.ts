import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { catalogue, evaluate, functionSection, planEntries } from '@jaunty-ledger/core';

const wave = (height: number) => Float64Array.from({ length: 300 }, (_, row) => height + Math.sin(row * row));
const columns = { open: wave(100), high: wave(102), low: wave(98), close: wave(100.5), volume: wave(50) };
const frame = { time: columns.close.map((_, row) => row * 60e6), columns };

describe.each([...catalogue.values()].map((entry) => [entry.name, entry] as const))('%s', (name, entry) => {
  it('is told in full: what it does, its formula, where it comes from, what it costs', () => {
    for (const text of [entry.sentence, entry.formula, entry.definition, entry.source, entry.cost])
      expect(text.length).toBeGreaterThan(0);
    expect(entry.sentence).toMatch(/^[A-Z].*\.$/);
    for (const { says } of [...entry.parameters, ...Object.values(entry.options)]) expect(says).not.toBe('');
  });

  it('has an example that can be evaluated, and is said in words', () => {
    const given = evaluate([entry.example], frame);
    expect(given.map(({ part }) => part)).toEqual(['', ...(entry.parts ?? []).slice(1).map((part) => part.name)]);
    for (const { values, firstValid } of given) {
      expect(values.length).toBe(300);
      expect(firstValid).toBeLessThan(300);
    }
    expect(planEntries([entry.example], { columns: Object.keys(columns) })[0].phrase).toMatch(/close|volatility/);
  });

  it('is written down for readers', () => {
    const page = readFileSync(new URL('../../docs/functions.md', import.meta.url), 'utf8');
    expect(page, 'run `npm run docs`').toContain(functionSection(entry));
    expect(page).toContain(`(#${name})`);
  });
});

it('the core imports nothing but itself and a few packages', () => {
  const root = fileURLToPath(new URL('../src', import.meta.url));
  const files = readdirSync(root, { recursive: true, encoding: 'utf8' }).filter(
    (file) => file.endsWith('.ts') && !file.endsWith('.test.ts'),
  );
  expect(files.length).toBeGreaterThan(30);
  const outside = new Set<string>();
  for (const file of files)
    for (const [, from] of readFileSync(`${root}/${file}`, 'utf8').matchAll(/from '([^']+)'/g))
      if (!from.startsWith('.')) outside.add(from);
  expect([...outside].sort()).toEqual([
    '@noble/hashes/sha2.js',
    '@noble/hashes/utils.js',
    '@stdlib/math-base-special-betainc',
    '@stdlib/math-base-special-erfc',
    '@stdlib/math-base-special-erfcinv',
    '@stdlib/math-base-special-gammainc',
    'chevrotain',
    'd3-format',
    'fft.js',
    'temporal-polyfill',
  ]);
});
