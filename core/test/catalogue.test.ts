import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { catalogue, evaluate, planEntries } from '@jaunty-ledger/core';

const columns = { close: Float64Array.from({ length: 60 }, (_, row) => 100 + Math.sin(row)) };
const frame = { time: columns.close.map((_, row) => row * 60e6), columns };

describe.each([...catalogue.values()].map((entry) => [entry.name, entry] as const))('%s', (name, entry) => {
  it('is told in full: what it does, its formula, where it comes from, what it costs', () => {
    for (const text of [entry.sentence, entry.formula, entry.definition, entry.source, entry.cost])
      expect(text.length).toBeGreaterThan(3);
    expect(entry.sentence).toMatch(/^[A-Z].*\.$/);
    for (const { says } of [...entry.parameters, ...Object.values(entry.options)]) expect(says).not.toBe('');
  });

  it('has an example that can be evaluated, and is said in words', () => {
    const [column] = evaluate([entry.example], frame);
    expect(column.values.length).toBe(60);
    expect(column.firstValid).toBeLessThan(60);
    expect(planEntries([entry.example], ['close'])[0].phrase).toContain('close');
  });

  it('is written down for readers', () => {
    const notation = readFileSync(new URL('../../docs/notation.md', import.meta.url), 'utf8');
    expect(notation).toContain(`\`${name}`);
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
  expect([...outside].sort()).toEqual(['chevrotain', 'temporal-polyfill']);
});
