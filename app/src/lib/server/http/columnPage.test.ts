import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { ledgerFor } from '$lib/ledger/firstLedger';
import { ledgers } from '../store/ledgers';
import { holdStore, type HeldStore } from '../store/openStore';
import { deleteTape, findTape, insertTape } from '../store/tapes';
import { shownTape, type NewTape } from '../store/tapeRows';
import { columnPage } from './columnPage';

/* Where Examine, Project and Compare start, and what they go on with when that is gone. */

let folder: string;
let held: HeldStore;
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'jaunty-start-'));
  held = await holdStore(`sqlite:${folder}`);
});
afterEach(async () => {
  await held.release();
  rmSync(folder, { recursive: true, force: true });
});

const tape = (name: string): NewTape => ({
  ...{ name, kind: 'ticks', zone: 'UTC', calendar: null, tags: [], session: null, weekdays: null, closed: [] },
  ...{ closeIncluded: false, interval: null, rows: 1, flagged: 0, firstAt: 0, lastAt: 0, columns: ['time', 'price'] },
  ...{ texts: [], numbers: [], precision: 'moment', generationId: '', priceDecimals: 2, sizeDecimals: 0, spark: [] },
  ...{ note: '', unit: '' },
  report: {
    file: 'a.csv',
    bytes: 9,
    sha256: '',
    lines: 1,
    reading: null,
    findings: [],
    leftOutCount: 0,
    enteredAt: '',
  },
});
const enter = (name: string) => held.store.write((rows) => insertTape(rows, tape(name)));
const keepLedger = (name: string, rule: string, at: number) =>
  held.store.write(async (rows) => {
    const { title, body } = ledgerFor(shownTape((await findTape(rows, name))!));
    await ledgers.insert(rows, { title, body: { ...body, rule } }, at);
  });
const take = (name: string) =>
  held.store.write(async (rows) => deleteTape(rows, (await findTape(rows, name))!, Date.now()));
const start = async (query = '') => {
  const locals = { store: held.store, gate: { isShut: false }, who: '', access: 'keep' as const };
  return (await columnPage(locals, new URL(`http://localhost/examine${query}`), 'examine')).usual;
};

it('is the tape of the ledger saved last, in its bars', async () => {
  await enter('AMBR');
  await enter('KELP');
  await keepLedger('KELP', '7 ticks', 1);
  expect(await start()).toEqual({ tape: 'KELP', bars: '7 ticks', entry: 'close' });
  expect(await start('?tape=ambr')).toMatchObject({ tape: 'AMBR' });
});

it('is the first tape of the shelf where that one has been deleted', async () => {
  await enter('AMBR');
  await enter('KELP');
  await keepLedger('KELP', '7 ticks', 1);
  await take('KELP');
  expect((await start()).tape).toBe('AMBR');
  expect((await start()).bars).not.toBe('7 ticks');
});

it('refuses a tape that is not there, and sends to the records where there is none', async () => {
  await expect(start()).rejects.toMatchObject({ status: 307, location: '/records' });
  await enter('AMBR');
  await expect(start('?tape=KELP')).rejects.toMatchObject({ status: 404 });
});
