import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { tableFromIPC } from 'apache-arrow';
import { Reader } from './reader.js';
import { origin } from './ownServer';

/* What the catalogue knows, on the page and by HTTP; and tables in every format that is offered. */

let reader: Reader;
beforeAll(async () => {
  reader = await Reader.arrive();
});
afterAll(() => reader.leave());

interface Told {
  name: string;
  sentence: string;
  example: string;
}
const functions = async () => (await (await fetch(`${origin}/api/functions`)).json()) as Told[];

describe('the help page', () => {
  it('has every function with its sentence, its example and a picture of it', async () => {
    await reader.open('/help');
    const all = await functions();
    for (const { name } of all) await reader.find(`#${name}`);
    const text = await reader.text();
    for (const { sentence } of all) expect(text).toContain(sentence.replaceAll('`', '').slice(0, 30));
    await reader.page.waitForFunction(() => document.querySelectorAll('main svg path, main canvas').length > 0);
  });

  it('can be reached from the ledger by the keyboard, and searched', async () => {
    await reader.openLedger('SALT');
    const link = await reader.control('link', 'Help');
    await link.focus();
    await reader.page.keyboard.press('Enter');
    await reader.sees('Exponential');
  });
});

describe('the interface', () => {
  it('describes itself, with its functions and the schema of a ledger', async () => {
    const api = await (await fetch(`${origin}/api/openapi.json`)).json();
    expect(api.openapi).toBe('3.1.0');
    expect(api['x-functions'].length).toBe((await functions()).length);
    const schema = await (await fetch(`${origin}/api/schemas/ledger`)).json();
    expect(schema).toMatchObject({
      type: 'object',
      properties: { format: expect.anything(), body: expect.anything() },
    });
  });

  const ask = (accept: string, more: object = {}) =>
    fetch(`${origin}/api/columns`, {
      method: 'POST',
      headers: { accept, 'content-type': 'application/json' },
      body: JSON.stringify({ tape: 'KELP', bars: '1 hour', entries: ['m = mean(close, 20 bars)'], ...more }),
    });

  it('gives the same figures in every format', async () => {
    const csv = (await (await ask('text/csv')).text()).trimEnd().split('\n');
    const ndjson = (await (await ask('application/x-ndjson')).text()).trimEnd().split('\n');
    const json = await (await ask('application/json')).json();
    const arrow = tableFromIPC(new Uint8Array(await (await ask('application/vnd.apache.arrow.stream')).arrayBuffer()));
    const parquet = new Uint8Array(await (await ask('application/vnd.apache.parquet')).arrayBuffer());
    const rows = csv.length - 1;
    expect([ndjson.length, json.columns.m.length, arrow.numRows]).toEqual([rows, rows, rows]);
    const [last] = csv.slice(-1);
    const value = Number(last.split(',').at(-1));
    expect([JSON.parse(ndjson.at(-1)!).m, json.columns.m.at(-1), arrow.getChild('m')!.get(rows - 1)]).toEqual([
      value,
      value,
      value,
    ]);
    expect(new TextDecoder().decode(parquet.subarray(0, 4))).toBe('PAR1');
  });

  it('leaves incomplete rows out where that is asked for', async () => {
    const all = await (await ask('application/json')).json();
    const complete = await (await ask('application/json', { complete: true })).json();
    expect(all.columns.m.length - complete.columns.m.length).toBe(19);
    expect(complete.columns.m.every((value: number | null) => value !== null)).toBe(true);
  });

  it('reads other tapes and larger bars', async () => {
    const answer = await ask('application/json', {
      entries: ['pair = correlation(return(close), return(SALT.close), 20 bars)', 'd = mean(close, 3 bars) on 1 day'],
    });
    const { columns } = await answer.json();
    expect(Math.abs(columns.pair.at(-1))).toBeLessThanOrEqual(1);
    expect(new Set(columns.d.slice(-8)).size).toBe(2); // the day that is not over is not seen until its last hour
  });

  it.each([
    ['a function that is none', { entries: ['m = maen(close, 20 bars)'] }, 422, 'did you mean `mean`?'],
    ['a rule that is none', { bars: '1 hoor' }, 400, 'is no unit for bars'],
    ['a tape that is not there', { tape: 'NOBODY' }, 404, 'No tape is called'],
    ['something that it does not know', { colour: 'red' }, 400, ''],
  ])('refuses %s, and says where', async (_, more, status, says) => {
    const answer = await ask('application/json', more);
    const problem = await answer.json();
    expect(answer.headers.get('content-type')).toContain('application/problem+json');
    expect(JSON.stringify(problem)).toContain(says);
    expect(answer.status).toBe(status);
  });
});
