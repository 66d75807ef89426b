import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { aboutOf, ExamineBody, ProjectBody } from '$lib/api/pages';
import { holdStore, type HeldStore } from './openStore';
import { pages } from './pages';
import type { Rows } from './store';

let folder: string;
let held: HeldStore;
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'jaunty-pages-'));
  held = await holdStore(`sqlite:${folder}`);
});
afterEach(async () => {
  await held.release();
  rmSync(folder, { recursive: true, force: true });
});

const read = <T>(work: (rows: Rows) => Promise<T>) => held.store.read(work);
const write = <T>(work: (rows: Rows) => Promise<T>) => held.store.write(work);
const about = { tape: 'KELP', bars: '1 day', entry: 'close' };
const examine = (more: object = {}) => ExamineBody.parse({ page: 'examine', ...about, ...more });
const project = (more: object = {}) => ProjectBody.parse({ page: 'project', ...about, ...more });
const kept = (title: string, body: ReturnType<typeof examine> | ReturnType<typeof project>, at = 1) =>
  write((rows) => pages.insert(rows, { title, body }, at));

describe('kept pages', () => {
  it('of both kinds lie beside each other, the one saved last first', async () => {
    await kept('What it is like', examine(), 1);
    await kept('Where it might go', project({ models: ['last', 'drift'] }), 2);
    const all = await read((rows) => pages.list(rows));
    expect(all.map(({ title, body }) => [title, body.page])).toEqual([
      ['Where it might go', 'project'],
      ['What it is like', 'examine'],
    ]);
  });

  it('are saved and taken away on the version that they were looked at, and on no other', async () => {
    const { id } = await kept('First', examine());
    const save = (title: string) => write((rows) => pages.update(rows, id, { title, body: examine(), version: 1 }, 2));
    expect(await save('Second')).toMatchObject({ title: 'Second', version: 2 });
    expect(await save('Third')).toBeUndefined();
    expect(await write((rows) => pages.remove(rows, id, 1))).toBe(false);
    expect(await write((rows) => pages.remove(rows, id, 2))).toBe(true);
    expect(await read((rows) => pages.find(rows, id))).toBeUndefined();
  });

  it('follow a tape that gets another name, also where it stands beside another', async () => {
    const own = await kept('Own', examine());
    const beside = await kept('Beside', examine({ tape: 'SALT', beside: 'KELP' }));
    const ahead = await kept('Ahead', project());
    const other = await kept('Other', examine({ tape: 'SALT' }));
    await write((rows) => pages.rename(rows, 'kelp', 'WEED'));
    const now = async ({ id }: { id: number }) => (await read((rows) => pages.find(rows, id)))!;
    expect((await now(own)).body).toMatchObject({ tape: 'WEED', beside: '' });
    expect((await now(beside)).body).toMatchObject({ tape: 'SALT', beside: 'WEED' });
    expect(aboutOf((await now(ahead)).body).tape).toBe('WEED');
    // whoever has looked at one before is told that it has changed
    expect([(await now(own)).version, (await now(other)).version]).toEqual([2, 1]);
    expect((await read((rows) => pages.last(rows, 'weed')))?.body).toMatchObject({ tape: 'WEED' });
  });

  it('of an earlier day are read with the usual values for what has come since', async () => {
    const old = {
      title: 'Old',
      body: JSON.stringify({ page: 'examine', ...about }),
      version: 1,
      saved_at: 1,
      tape_key: 'kelp',
    };
    await write((rows) => rows('page').insert(old));
    expect((await read((rows) => pages.list(rows)))[0].body).toEqual(examine());
  });
});
