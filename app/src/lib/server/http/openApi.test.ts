import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { catalogue } from '@jaunty-ledger/core';
import { describe, expect, it } from 'vitest';
import { firstLedger, LedgerBody, LedgerFile } from '$lib/api/ledgers';
import { z } from 'zod';
import { openApi } from './openApi';

/* The description is made from what the routes say of themselves; these tests hold it to the files that there are. */

const folder = join(import.meta.dirname, '../../../routes/api');

/** Each route file as `method path`. */
const routes = readdirSync(folder, { recursive: true, encoding: 'utf8' })
  .filter((file) => file.endsWith('+server.ts'))
  .flatMap((file) => {
    const path = `/api/${file.replace(/\/?\+server\.ts$/, '')}`.replaceAll(/\[(\w+)\]/g, '{$1}');
    const source = readFileSync(join(folder, file), 'utf8');
    const names = [...source.matchAll(/export const (?:\{([^}]+)\}|(\w+)) =/g)].flatMap(([, several, one]) =>
      several ? several.split(',').map((name) => name.trim()) : [one],
    );
    return names
      .filter((name) => ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'].includes(name))
      .map((method) => `${method.toLowerCase()} ${path}`);
  });

const api = await openApi();
const described = Object.entries(api.paths).flatMap(([path, methods]) =>
  Object.keys(methods).map((method) => `${method} ${path}`),
);

describe('the description of the interface', () => {
  it('has every route that there is, and no other', () => expect(described.sort()).toEqual(routes.sort()));

  it('names every function of the catalogue', () =>
    expect(api['x-functions'].map(({ name }) => name).sort()).toEqual([...catalogue.keys()].sort()));

  it('says of each what it does, and how it may refuse', () => {
    for (const methods of Object.values(api.paths))
      for (const operation of Object.values(methods))
        expect(operation).toMatchObject({
          summary: expect.stringMatching(/\.$/),
          responses: { 500: { content: { 'application/problem+json': expect.anything() } } },
        });
  });

  it('can be written as JSON', () => expect(JSON.parse(JSON.stringify(api))).toMatchObject({ openapi: '3.1.0' }));
});

describe('a ledger as a file', () => {
  const file = { format: 'jaunty-ledger/1', ...firstLedger('KELP', '15 minutes') };

  it('is read back as it was written', () => expect(LedgerFile.parse(JSON.parse(JSON.stringify(file)))).toEqual(file));

  it('has a published schema that names its parts', () =>
    expect(z.toJSONSchema(LedgerFile, { io: 'input' })).toMatchObject({
      properties: { format: { const: 'jaunty-ledger/1' }, body: { properties: { lanes: { type: 'array' } } } },
    }));

  it.each([
    ['of another version', { ...file, format: 'jaunty-ledger/2' }],
    ['with a lane too few', { ...file, body: { ...file.body, lanes: [] } }],
    ['with something that nobody knows', { ...file, body: { ...file.body, colour: 'red' } }],
    ['with an ink that there is not', { ...file, body: withEntry({ ink: 9 }) }],
  ])('is refused %s', (_, wrong) => expect(LedgerFile.safeParse(wrong).success).toBe(false));

  it('may leave out what has a usual value', () => {
    const [entry] = LedgerBody.parse(withEntry({ ink: 1 })).lanes[0].entries;
    expect(entry).toMatchObject({ hidden: false, drawn: 'line', dash: null, width: 1.7, shift: 0, second: false });
  });

  function withEntry(style: object) {
    const [lane] = file.body.lanes;
    return { ...file.body, lanes: [{ ...lane, entries: [{ id: 'a', text: 'a = close', ...style }] }] };
  }
});
