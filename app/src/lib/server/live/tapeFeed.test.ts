import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { RecordColumns } from '@jaunty-ledger/files/records/recordColumns';
import { encodeChunk } from '../chunks/tapeChunk';
import { chunksBetween, partsBetween, recordsIn } from '../store/chunks';
import { GenerationWriter, sweepGenerations } from '../store/generations';
import { connectStore, holdStore, type HeldStore } from '../store/openStore';
import { emptyStore, storeKinds, type TestStore } from '../store/storesOfTests';
import { deleteTape, findTape, insertTape } from '../store/tapes';
import type { NewTape, StoredTape } from '../store/tapeRows';
import { TapeFeed, type FedChange } from './tapeFeed';

/* What is fed to a tape lies in its place, once, however it came; and the parts of the tape stay few. */

let made: TestStore;
let held: HeldStore;
let changes: FedChange[];
let feed: TapeFeed;
const NAMES = ['time', 'price', 'size', 'line', 'flags'];

const tapeOver = (generationId: string): NewTape => ({
  ...{ name: 'FED', kind: 'ticks', zone: 'UTC', calendar: null, tags: [], session: null, weekdays: null, closed: [] },
  ...{ closeIncluded: false, interval: null, rows: 1, flagged: 0, firstAt: 0, lastAt: 0, columns: NAMES },
  ...{ texts: [], numbers: [], precision: 'moment', priceDecimals: 0, sizeDecimals: 0, spark: [1], note: '', unit: '' },
  generationId,
  report: { file: '', bytes: 0, sha256: '', lines: 1, reading: null, findings: [], leftOutCount: 0, enteredAt: '' },
});

interface One {
  at: number;
  price: number;
}
const records = (some: readonly One[]): RecordColumns => ({
  time: Float64Array.from(some, ({ at }) => at * 1e6),
  price: Float64Array.from(some, ({ price }) => price),
  size: Float64Array.from(some, () => 1),
  line: Float64Array.from(some, (_, at) => at + 1),
  flags: new Float64Array(some.length),
});
const sent = (some: readonly One[], sequences?: readonly number[]) => ({
  ...{ rows: some.length, columns: records(some) },
  sequences: sequences && Float64Array.from(sequences),
});
const tape = async (): Promise<StoredTape> => (await held.store.read((rows) => findTape(rows, 'FED')))!;
/** Prices as a reader of some version of the tape finds them. */
async function pricesOf(of: StoredTape): Promise<number[]> {
  const prices: number[] = [];
  for await (const chunk of chunksBetween(held.store, of, -Infinity, Infinity))
    prices.push(...recordsIn(of, chunk).price);
  return prices;
}

describe.each(storeKinds())('records that are fed to %s', (kind) => {
  beforeEach(async () => {
    made = await emptyStore(kind);
    held = await holdStore(made.address);
    const generation = new GenerationWriter(held.store, 0);
    const { decimals: _, ...chunk } = encodeChunk(records([{ at: 0, price: 1 }]), 'price');
    await generation.add(chunk);
    await generation.finish();
    await held.store.write((rows) => insertTape(rows, tapeOver(generation.id)));
    changes = [];
    feed = new TapeFeed(held.store, await tape(), 100, (change) => changes.push(change));
  });
  afterEach(async () => {
    await held.release();
    await made.clear();
  });

  it('lie in order of time, those of one instant as they came, after many small writes in few parts', async () => {
    const all: One[] = [{ at: 0, price: 1 }];
    for (let write = 0; write < 110; write++) {
      const at = 10 * write + 10;
      // each fifth write has one that is late, and one of an instant that is there already
      const some = [
        { at, price: at },
        ...(write % 5 === 4
          ? [
              { at: at - 33, price: at + 0.5 },
              { at, price: at + 0.25 },
            ]
          : []),
      ];
      all.push(...some);
      const { late } = await feed.open('')(sent(some));
      expect(late?.records).toBe(write % 5 === 4 ? 1 : undefined);
    }
    const wanted = all.map((one, order) => ({ ...one, order })).sort((a, b) => a.at - b.at || a.order - b.order);
    const now = await tape();
    expect(await pricesOf(now)).toEqual(wanted.map(({ price }) => price));
    expect([now.rows, now.lastAt, now.priceDecimals]).toEqual([all.length, 1100e6, 2]);
    expect((await held.store.read((rows) => partsBetween(rows, now, -Infinity, Infinity))).length).toBeLessThan(60);
    await sweepGenerations(held.store, Infinity);
    expect(await pricesOf(await tape())).toHaveLength(all.length);
  });

  it('are not seen by whoever has read the tape before', async () => {
    await feed.open('')(sent([{ at: 1, price: 2 }]));
    const before = await tape();
    await feed.open('')(sent([{ at: 2, price: 3 }]));
    await feed.open('')(sent([{ at: 1.5, price: 2.5 }]));
    expect(await pricesOf(before)).toEqual([1, 2]);
    expect(await pricesOf(await tape())).toEqual([1, 2, 2.5, 3]);
  });

  it('are entered once by their numbers, each sender by its own', async () => {
    const some = [1, 2, 3, 4].map((at) => ({ at, price: at }));
    expect(await feed.open('a')(sent(some.slice(0, 3), [10, 11, 12]))).toMatchObject({
      records: 3,
      repeated: 0,
      sequence: 12,
    });
    const [again, other] = await Promise.all([
      feed.open('a')(sent(some, [10, 11, 12, 13])),
      feed.open('b')(sent([{ at: 5, price: 5 }], [10])),
    ]);
    expect([again, other]).toMatchObject([
      { records: 1, repeated: 3, sequence: 13 },
      { records: 1, repeated: 0, sequence: 10 },
    ]);
    expect(await pricesOf(await tape())).toEqual([1, 1, 2, 3, 4, 5]);
    expect(await feed.sequenceOf('a')).toBe(13);
    expect(changes.map(({ before, after }) => after.version - before.version)).toEqual([1, 1]);
  });

  it('come in on two servers at once, each of them once', async () => {
    const other = connectStore(made.address);
    try {
      const feeds = [feed, new TapeFeed(other, await tape(), 100, (change) => changes.push(change))];
      const put = async (turn: number) => {
        for (let at = 0; at < 12; at++)
          await feeds[turn].open(`sender ${turn}`)(sent([{ at: 1 + 2 * at + turn, price: 2 + 2 * at + turn }], [at]));
      };
      await Promise.all([put(0), put(1)]);
    } finally {
      await other.close();
    }
    expect(await pricesOf(await tape())).toEqual(Array.from({ length: 25 }, (_, at) => at + 1));
    expect((await tape()).rows).toBe(25);
  });

  it('are left out behind some that could not be entered, so that their sender goes on where the tape has come to', async () => {
    let begun: () => void;
    const isBegun = new Promise<void>((resolve) => (begun = resolve));
    let fail: () => void = () => undefined;
    const store = Object.create(held.store) as typeof held.store;
    store.write = () => {
      delete (store as Partial<typeof store>).write; // once
      begun();
      return new Promise((_, reject) => (fail = () => reject(new Error('away'))));
    };
    feed = new TapeFeed(store, await tape(), 100, (change) => changes.push(change));
    const [a, b] = [feed.open('a'), feed.open('b')];
    const one = (at: number) => sent([{ at, price: at }], [at]);
    const lost = a(one(1));
    await isBegun;
    const behind = [a(one(2)), b(one(3))];
    fail();
    const outcomes = await Promise.allSettled([lost, ...behind, a(one(4))]);
    expect(outcomes.map(({ status }) => status)).toEqual(['rejected', 'rejected', 'fulfilled', 'rejected']);
    expect([await feed.sequenceOf('a'), await feed.sequenceOf('b')]).toEqual([-1, 3]);
    await feed.open('a')(
      sent(
        [1, 2, 4].map((at) => ({ at, price: at })),
        [1, 2, 4],
      ),
    );
    expect(await pricesOf(await tape())).toEqual([1, 1, 2, 3, 4]);
  });

  it('wait while somebody else changes the tape, and are refused once it is deleted', async () => {
    await feed.hold();
    let isSafe = false;
    const put = feed
      .open('')(sent([{ at: 1, price: 2 }]))
      .then(() => (isSafe = true));
    await new Promise((resolve) => setTimeout(resolve, 150));
    expect(isSafe).toBe(false);
    feed.letGo();
    await put;
    await held.store.write(async (rows) => deleteTape(rows, (await findTape(rows, 'FED'))!, 1));
    await expect(feed.open('')(sent([{ at: 2, price: 3 }]))).rejects.toMatchObject({
      problem: { code: 'unknown-tape' },
    });
  });
});
