import { setTimeout } from 'node:timers/promises';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { firstLedger } from '$lib/api/ledgers';
import { decodeChunk, encodeChunk } from '../chunks/tapeChunk';
import { chunksBetween, partOfRow, partsBetween, rowsBefore } from './chunks';
import { GenerationWriter, sweepGenerations } from './generations';
import type { ListRange } from './listPages';
import { endSessions, findSession, insertSession, listSessions, noteSessionUse } from './sessions';
import { ledgers } from './ledgers';
import { keepCalendar, listCalendars } from './calendars';
import { findProfile, keepProfile, profileOfShape } from './profiles';
import { connectStore, holdStore, type HeldStore } from './openStore';
import { emptyStore, storeKinds, testTape as tape, type TestStore } from './storesOfTests';
import type { Rows, Store } from './store';
import type { StoredTape } from './tapeRows';
import * as tapes from './tapes';

describe.each(storeKinds())('a store in %s', (kind) => {
  let made: TestStore;
  let held: HeldStore;
  let store: Store;

  beforeEach(async () => {
    made = await emptyStore(kind);
    held = await holdStore(made.address);
    store = held.store;
  });
  afterEach(async () => {
    await held.release();
    await made.clear();
  });

  const chunk = (times: number[]) => {
    const column = (value: number) => new Float64Array(times.length).fill(value);
    const columns = { time: Float64Array.from(times), price: column(2), line: column(1), flags: column(0) };
    const { decimals: _, ...encoded } = encodeChunk(columns, 'price');
    return encoded;
  };

  /** Writes a generation of chunks with records at these times. */
  async function generationOf(parts: number[][]): Promise<string> {
    const generation = new GenerationWriter(store, 0);
    for (const times of parts) await generation.add(chunk(times));
    await generation.finish();
    return generation.id;
  }

  const insert = (name: string, generationId?: string) =>
    store.write((rows) => tapes.insertTape(rows, tape(name, generationId)));
  const find = async (name: string) => (await store.read((rows) => tapes.findTape(rows, name)))!;
  const countOf = (table: string) =>
    store.read(async (rows: Rows) => ((await rows(table).count({ count: '*' }).first()) as { count: number }).count);

  describe('tapes', () => {
    it('come back as they went in, by a name of any capitals', async () => {
      await insert('Kelp');
      const more = { version: 1, appended: [], calendarCheck: null };
      expect(await find('kELP')).toMatchObject({ ...tape('Kelp'), ...more });
      expect(await find('SALT')).toBeUndefined();
    });

    it('have one name each', async () => {
      await insert('KELP');
      await expect(insert('kelp')).rejects.toThrow('A tape is called kelp already');
    });

    it('are of a new version after every change, since their bars may be others', async () => {
      await insert('KELP');
      const before = await find('KELP');
      await store.write((rows) => tapes.updateTape(rows, before, { zone: 'UTC', session: null, closed: null }));
      expect(await find('KELP')).toMatchObject({ zone: 'UTC', session: null, closed: null, version: 2 });
    });

    it('have other hours than the calendar that they go by until its change has come to them', async () => {
      const { zone, session, weekdays, closed, closeIncluded } = tape('');
      const calendar = { name: 'Quay', zone, session, weekdays, closed, closeIncluded };
      await store.write((rows) => keepCalendar(rows, 'Quay', calendar));
      for (const name of ['KELP', 'SALT'])
        await store.write((rows) => tapes.insertTape(rows, { ...tape(name), calendar: 'Quay' }));
      await insert('REED');
      const listed = async () => (await store.read(listCalendars))[0];
      expect(await listed()).toMatchObject({ tapes: ['KELP', 'SALT'], behind: [] });
      await store.write((rows) => keepCalendar(rows, 'Quay', { ...calendar, closed: null }));
      const kelp = await find('KELP');
      await store.write((rows) => tapes.updateTape(rows, kelp, { calendar: 'Quay', closed: null }));
      expect(await listed()).toMatchObject({ tapes: ['KELP', 'SALT'], behind: ['SALT'] });
    });

    it('that were deleted leave their name free, and come back until they are cleared away', async () => {
      await insert('KELP');
      const before = await find('KELP');
      await store.write((rows) => tapes.deleteTape(rows, before, 100));
      expect(await store.read(tapes.listTapes)).toEqual([]);
      await insert('KELP');
      const deleted = () => store.read((rows) => tapes.findDeleted(rows, 'KELP'));
      const first = (await deleted())!;
      await expect(store.write((rows) => tapes.restoreTape(rows, first))).rejects.toThrow('called KELP by now');
      await store.write((rows) => tapes.clearDeleted(rows, 100, 0));
      expect(await deleted()).toBeDefined();
      await store.write((rows) => tapes.clearDeleted(rows, 101, 0));
      expect(await deleted()).toBeUndefined();
    });

    it('keep the lines that were left out, by their files', async () => {
      const id = await insert('KELP');
      const lines = Array.from({ length: 500 }, (_, i) => ({ line: i, reason: 'no price', text: `${i},` }));
      await store.write((rows) => tapes.insertLeftOut(rows, id, lines.slice(0, 9), 1));
      await store.write((rows) => tapes.insertLeftOut(rows, id, lines));
      expect(await store.read((rows) => tapes.leftOutLines(rows, id))).toEqual([
        ...lines.map((line) => ({ ...line, file: 0 })),
        ...lines.slice(0, 9).map((line) => ({ ...line, file: 1 })),
      ]);
    });
  });

  describe('records of a tape', () => {
    let kelp: StoredTape;
    beforeEach(async () => {
      await insert(
        'KELP',
        await generationOf([
          [0, 10],
          [10, 20],
          [21, 30],
        ]),
      );
      kelp = await find('KELP');
    });

    const sequencesBetween = async (from: number, to: number, of = kelp) => {
      const sequences: number[] = [];
      for await (const { sequence } of chunksBetween(store, of, from, to)) sequences.push(sequence);
      return sequences;
    };

    it.each([
      [-Infinity, Infinity, [0, 1, 2]],
      [10, 20, [0, 1]],
      [11, 21, [1]],
      [20, 20.5, [1]],
      [31, Infinity, []],
      [-Infinity, 0, []],
    ])('lie in the parts from %d to %d', async (from, to, wanted) =>
      expect(await sequencesBetween(from, to)).toEqual(wanted),
    );

    it('are found by a row, and counted before an instant', async () => {
      const partAt = (row: number) => store.read((rows) => partOfRow(rows, kelp, row));
      expect(await partAt(0)).toEqual({ sequence: 0, firstRow: 0 });
      expect(await partAt(3)).toEqual({ sequence: 1, firstRow: 2 });
      expect(await partAt(6)).toBeUndefined();
      expect(await store.read((rows) => rowsBefore(rows, kelp, 21))).toBe(4);
    });

    it('of a long tape come back in order, however many parts there are', async () => {
      const times = Array.from({ length: 37 }, (_, i) => i);
      await insert('LONG', await generationOf(times.map((time) => [time])));
      const long = await find('LONG');
      expect(await sequencesBetween(-Infinity, Infinity, long)).toEqual(times);
      expect(await sequencesBetween(5, 30, long)).toEqual(times.slice(5, 30));
    });

    /** Lets KELP point at another generation, with its last part in place of the one it had. */
    async function changed(): Promise<void> {
      const parts = await store.read((rows) => partsBetween(rows, kelp, -Infinity, Infinity));
      const next = new GenerationWriter(store, 0);
      await next.keep(parts[0]);
      await next.keep(parts[1]);
      await next.add(chunk([50, 60]));
      await next.finish();
      await store.write((rows) => tapes.replaceRecords(rows, kelp, next.id, 100));
    }

    it('are those of the generation one began with, whatever becomes of the tape meanwhile', async () => {
      const reading = chunksBetween(store, kelp, -Infinity, Infinity);
      await reading.next();
      await changed();
      const rest: number[] = [];
      for await (const part of reading) rest.push(...decodeChunk(part).time);
      expect(rest).toEqual([10, 20, 21, 30]);
      const now = await find('KELP');
      const all: number[] = [];
      for await (const part of chunksBetween(store, now, -Infinity, Infinity)) all.push(...decodeChunk(part).time);
      expect(all).toEqual([0, 10, 10, 20, 50, 60]);
    });

    it('are swept when nobody reads them any more, but for the parts that a later generation shares', async () => {
      await changed();
      await sweepGenerations(store, 100);
      expect(await countOf('chunk')).toBe(4);
      await sweepGenerations(store, 101);
      expect([await countOf('chunk'), await countOf('generation')]).toEqual([3, 1]);
      expect(await sequencesBetween(-Infinity, Infinity, await find('KELP'))).toEqual([0, 1, 2]);
      // whoever still has the tape as it was is told, and gets no empty one
      await expect(sequencesBetween(-Infinity, Infinity)).rejects.toThrow('KELP was changed or deleted');
    });

    it('that were swept while they were read are told of, and no shorter tape is given', async () => {
      const reading = chunksBetween(store, kelp, 21, Infinity);
      const parts = await store.read((rows) => partsBetween(rows, kelp, 21, Infinity));
      expect(parts.length).toBe(1);
      await store.write((rows) => rows('chunk').where({ sequence: 2 }).delete());
      await expect(reading.next()).rejects.toThrow('KELP was changed or deleted while it was read');
    });

    it('of an import that died are nobody’s, and go with the next start', async () => {
      await generationOf([[1], [2]]);
      await sweepGenerations(store, Infinity);
      expect(await countOf('chunk')).toBe(5);
      await sweepGenerations(store, Infinity, 1);
      expect(await countOf('chunk')).toBe(3);
    });

    it('that an attempt left which failed elsewhere are written over, and go with their generation', async () => {
      const before = await countOf('chunk');
      const generation = new GenerationWriter(store, 0);
      const left = (sequence: number) => {
        const { checksum, data } = chunk([1]);
        return { generation_id: generation.id, sequence, checksum, data: Buffer.from(data) };
      };
      // as another database server has kept them
      await store.write((rows) => rows('chunk').insert([left(0), left(9)]));
      await generation.add(chunk([7, 8]));
      await generation.finish();
      await insert('TIDE', generation.id);
      const tide = await find('TIDE');
      const times: number[] = [];
      for await (const part of chunksBetween(store, tide, -Infinity, Infinity)) times.push(...decodeChunk(part).time);
      expect(times).toEqual([7, 8]);
      await store.write((rows) => tapes.deleteTape(rows, tide, 1));
      await store.write((rows) => tapes.clearDeleted(rows, 2, 2));
      await sweepGenerations(store, Infinity);
      expect(await countOf('chunk')).toBe(before);
    });

    it('of a deleted tape go once it cannot come back', async () => {
      await store.write((rows) => tapes.deleteTape(rows, kelp, 1));
      await store.write((rows) => tapes.clearDeleted(rows, 2, 50));
      await sweepGenerations(store, 51);
      expect([await countOf('chunk'), await countOf('tape_part'), await countOf('generation')]).toEqual([0, 0, 0]);
    });
  });

  it('sessions end where nobody uses them, and are ended by their owner alone', async () => {
    const session = (id: string, who: string, now: number) =>
      store.write((rows) =>
        insertSession(
          rows,
          `hash-${id}`,
          { who, kind: 'person', openedWith: 'x' },
          { id, address: '', now, until: 1e6 },
        ),
      );
    await session('a', 'anna', 1000);
    await session('b', 'ben', 1000);
    const isOpen = (id: string, now: number) =>
      store.read(async (rows) => (await findSession(rows, `hash-${id}`, now, 500)) !== undefined);
    expect([await isOpen('a', 1400), await isOpen('a', 1501)]).toEqual([true, false]);
    await store.write((rows) => noteSessionUse(rows, 'hash-a', 1400));
    expect([await isOpen('a', 1800), await isOpen('b', 1800)]).toEqual([true, false]);
    expect((await store.read((rows) => listSessions(rows, 'anna', 1800, 500))).map(({ id }) => id)).toEqual(['a']);
    expect(await store.write((rows) => endSessions(rows, 'ben', 'a'))).toBe(0);
    expect(await store.write((rows) => endSessions(rows, 'anna', 'a'))).toBe(1);
    expect(await isOpen('a', 1500)).toBe(false);
  });

  describe('ledgers', () => {
    const { body } = firstLedger('KELP', '1 hour');
    const made = (title: string, at: number, what = body) =>
      store.write((rows) => ledgers.insert(rows, { title, body: what }, at));
    const ledger = async (id: number) => (await store.read((rows) => ledgers.find(rows, id)))!;

    it('are saved on the version they were made on, and on no other', async () => {
      const { id } = await made('First', 1);
      const save = (title: string, at: number) =>
        store.write((rows) => ledgers.update(rows, id, { title, body, version: 1 }, at));
      expect(await save('Second', 2)).toMatchObject({ version: 2 });
      expect(await save('Third', 3)).toBeUndefined();
      expect((await ledger(id)).title).toBe('Second');
    });

    it('are listed by when they were saved, the last first', async () => {
      for (const [at, title] of ['Old', 'New', 'Middle'].entries()) await made(title, [1, 3, 2][at]);
      expect((await store.read((rows) => ledgers.list(rows))).map(({ title }) => title)).toEqual([
        'New',
        'Middle',
        'Old',
      ]);
    });

    it('follow a tape that gets another name', async () => {
      await insert('KELP');
      const { id } = await made('Kelp', 1);
      const other = await made('Salt', 2, { ...body, tape: 'SALT' });
      const last = async (tape: string) => (await store.read((rows) => ledgers.last(rows, tape)))?.id;
      await store.write(async (rows) => {
        await ledgers.rename(rows, 'KELP', 'WEED');
        await tapes.updateTape(rows, (await tapes.findTape(rows, 'KELP'))!, { name: 'WEED' });
      });
      expect([(await ledger(id)).body.tape, (await ledger(other.id)).body.tape]).toEqual(['WEED', 'SALT']);
      expect([await last('weed'), await last('KELP')]).toEqual([id, undefined]);
      await store.write(async (rows) => tapes.deleteTape(rows, (await tapes.findTape(rows, 'WEED'))!, 3));
      expect([(await ledger(id)).body.tape, await last('WEED')]).toEqual(['WEED', id]);
    });

    it('are listed a stretch at a time: each once, with their count', async () => {
      for (const at of [3, 1, 2, 2, 2]) await made(`Ledger ${at}`, at);
      const titles: string[] = [];
      let after: ListRange['after'];
      do {
        const page = await store.read((rows) => ledgers.listPage(rows, { limit: 2, after }));
        expect(page.total).toBe(5);
        titles.push(...page.items.map(({ title }) => title));
        after = page.next;
      } while (after);
      expect(titles).toEqual([3, 2, 2, 2, 1].map((at) => `Ledger ${at}`));
      const found = await store.read((rows) => ledgers.listPage(rows, { limit: 9 }, ledgers.titled('LEDGER 1')));
      expect(found).toMatchObject({ total: 1, items: [{ title: 'Ledger 1' }] });
    });

    it('of an earlier day are read with the usual values for what has come since', async () => {
      const old = {
        tape: 'KELP',
        rule: '1 hour',
        lanes: [{ id: 'a', base: 'price', weight: 1, entries: [] }],
        view: null,
      };
      const row = { title: 'Old', body: JSON.stringify(old), version: 1, saved_at: 1 };
      await store.write((rows) => rows('ledger').insert(row));
      expect((await store.read((rows) => ledgers.list(rows)))[0].body).toMatchObject({
        axis: 'bars',
        notes: [],
        trimmed: false,
        watched: [],
        events: [],
        flagged: true,
      });
    });

    it('can be taken away once, at the version that was looked at', async () => {
      const { id } = await made('First', 1);
      const remove = (version: number) => store.write((rows) => ledgers.remove(rows, id, version));
      expect([await remove(2), await remove(1), await remove(1)]).toEqual([false, true, false]);
    });
  });

  it('a reading is kept under a name, gives way to one of the same name, and is found by the shape of a file', async () => {
    const keep = (shape: string, decimal: string) =>
      store.write((rows) => keepProfile(rows, { name: 'mine', shape, choices: { decimal } }, null));
    await keep('a,b', 'point');
    await keep('a,c', 'comma');
    await store.read(async (rows) => {
      expect(await findProfile(rows, 'mine')).toEqual({ name: 'mine', shape: 'a,c', choices: { decimal: 'comma' } });
      expect(await profileOfShape(rows, 'a,b')).toBeUndefined();
      expect((await profileOfShape(rows, 'a,c'))!.name).toBe('mine');
    });
  });

  it('texts come back as they are, but for zero bytes, which a sign stands for', async () => {
    const text = 'a\0b "x" \\ \u{1f600} Ærø';
    await store.write((rows) => keepProfile(rows, { name: 'odd', shape: text, choices: {} }, null));
    const found = await store.read((rows) => profileOfShape(rows, text));
    expect(found?.shape).toBe(text.replace('\0', '\u2400'));
  });

  describe('two that write at once', () => {
    let other: Store;
    beforeEach(() => (other = connectStore(made.address)));
    afterEach(() => other.close());

    it('wait for one another, and both see what was entered before', async () => {
      const slow = store.write(async (rows) => {
        await tapes.insertTape(rows, tape('SALT'));
        await setTimeout(100);
      });
      await setTimeout(20);
      await other.write((rows) => tapes.insertTape(rows, tape('AMBR')));
      await slow;
      expect((await store.read(tapes.listTapes)).map(({ name }) => name)).toEqual(['AMBR', 'SALT']);
    });

    it('lose nothing where they read first: the later one sees what the earlier one wrote', async () => {
      await insert('KELP');
      const note = async (one: Store, turn: string) =>
        one.write(async (rows) => {
          const found = (await tapes.findTape(rows, 'KELP'))!;
          await setTimeout(Math.random() * 3);
          await tapes.updateTape(rows, found, { note: `${found.note}${turn}` });
        });
      const turns = Array.from({ length: 30 }, (_, turn) => note(turn % 2 ? store : other, turn % 2 ? 'a' : 'b'));
      await Promise.all(turns);
      const { note: written, version } = await find('KELP');
      expect([written.length, version]).toEqual([30, 31]);
    });

    it('keep nobody else waiting: the thread goes on, and readers read', async () => {
      await insert('KELP');
      const order: string[] = [];
      let finish = () => {};
      // one promise for all tries: a write that meets the other one is tried again
      const finished = new Promise<void>((resolve) => (finish = resolve));
      let slow!: Promise<void>;
      await new Promise<void>((begun) => {
        slow = store.write(async (rows) => {
          await tapes.insertTape(rows, tape('SALT'));
          begun();
          await finished;
        });
      });
      const waiting = other.write((rows) => tapes.insertTape(rows, tape('AMBR'))).then(() => order.push('written'));
      // a wait within the library would let neither of these go on before it is over
      await setTimeout(50).then(() => order.push('timer'));
      const isFolder = kind === 'a folder';
      // on a server those that touch other rows do not wait for one another at all
      if (!isFolder) await waiting;
      for (const one of [store, other]) order.push(`${(await one.read(tapes.listTapes)).length} read`);
      finish();
      await Promise.all([slow, waiting]);
      if (isFolder) expect(order).toEqual(['timer', '1 read', '1 read', 'written']);
      else expect(order.filter((one) => one !== 'written')).toEqual(['timer', '2 read', '2 read']);
    });

    it('write all of something or nothing', async () => {
      const failed = store.write(async (rows) => {
        await tapes.insertTape(rows, tape('KELP'));
        throw new Error('the power went');
      });
      await expect(failed).rejects.toThrow('the power went');
      expect(await other.read(tapes.listTapes)).toEqual([]);
    });
  });
});
