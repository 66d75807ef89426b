import { parseEntry, planEntries } from '@jaunty-ledger/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { LedgerBody } from '$lib/api/ledgers';
import { newEntry, newLane } from '$lib/api/ledgers';
import { History } from '$lib/components/history';
import * as edits from './ledgerEdits';

/** A ledger whose lanes hold entries by their names: `['a b', 'c']` is a lane with two and one with one. */
function ledger(...lanes: string[]): LedgerBody {
  return {
    tape: 'KELP',
    rule: '1 hour',
    flagged: true,
    view: null,
    alone: null,
    columns: null,
    notes: [],
    axis: 'bars',
    trimmed: false,
    watched: [],
    events: [],
    lanes: lanes.map((names, index) => ({
      ...newLane(`lane${index}`, index === 0 ? 'price' : 'none', 1),
      entries: names
        .split(' ')
        .filter(Boolean)
        .map((name, ink) => newEntry(name, `${name} = mean(close, 5 bars)`, ink)),
    })),
  };
}

const written = (body: LedgerBody) => body.lanes.map(({ entries }) => entries.map(({ id }) => id).join(' '));

function after(body: LedgerBody, edit: (body: LedgerBody) => void): string[] {
  edit(body);
  return written(body);
}

describe('an entry', () => {
  it('goes with its lane, if that was made for it', () => {
    expect(after(ledger('a b', 'c'), (body) => edits.removeEntry(body, 'c'))).toEqual(['a b']);
    expect(after(ledger('a', 'c'), (body) => edits.removeEntry(body, 'a'))).toEqual(['', 'c']);
  });

  it.each([
    ['down within its lane', 'a', 1, ['b a', 'c']],
    ['down into the next lane', 'b', 1, ['a', 'b c']],
    ['up into the lane before, whose last it is then', 'c', -1, ['a b c']],
    ['up past the top it gets a lane of its own', 'a', -1, ['b', 'c', 'a']],
    ['alone in the last lane it stays', 'c', 1, ['a b', 'c']],
  ] as const)('moves %s', (_, id, by, wanted) =>
    expect(after(ledger('a b', 'c'), (body) => edits.moveEntry(body, id, by))).toEqual(wanted),
  );

  it.each([
    ['b', 'lane0', 0, ['b a', 'c']],
    ['a', 'lane0', 2, ['b a', 'c']],
    ['a', 'lane1', 0, ['b', 'a c']],
    ['c', 'lane0', 1, ['a c b']],
    ['c', 'nowhere', 0, ['a b', 'c']],
  ] as const)('%s is put into %s before place %d', (id, lane, index, wanted) =>
    expect(after(ledger('a b', 'c'), (body) => edits.moveEntryTo(body, id, lane, index))).toEqual(wanted),
  );

  it('is copied under a name that is free, right after itself', () => {
    const body = ledger('a', 'a2');
    edits.duplicateEntry(body, 'a');
    expect(body.lanes[0].entries.map(({ text }) => text)).toEqual([
      'a = mean(close, 5 bars)',
      'a3 = mean(close, 5 bars)',
    ]);
  });

  it('is shown alone, and again with the others', () => {
    const body = ledger('a b', 'c');
    const hidden = () => edits.entriesOf(body).map((entry) => entry.hidden);
    edits.soloEntry(body, 'b');
    expect(hidden()).toEqual([true, false, true]);
    edits.soloEntry(body, 'b');
    expect(hidden()).toEqual([false, false, false]);
  });

  it.each([
    ['a = mean(close, 20 bars)', 'a = mean(close, 20 bars, from: 1)'],
    ['mean(close, 20 bars, from: 5)', undefined],
    ['a = close * 2', undefined],
    ['a = mean(close,', undefined],
  ])('%s starts early as %s', (text, wanted) => expect(edits.startedEarly(text)).toBe(wanted));
});

describe('however entries are moved', () => {
  const moves = fc.array(
    fc.record({
      kind: fc.constantFrom('up', 'down', 'own', 'copy', 'remove', 'lane'),
      at: fc.nat(),
    }),
    { maxLength: 30 },
  );

  it('none is lost or doubled, names stay apart, and no lane but those of the bars is empty', () =>
    fc.assert(
      fc.property(moves, (steps) => {
        const body = ledger('a b', 'c', 'd e');
        let count = 5;
        for (const { kind, at } of steps) {
          const entries = edits.entriesOf(body);
          if (entries.length === 0) break;
          const { id } = entries[at % entries.length];
          if (kind === 'up') edits.moveEntry(body, id, -1);
          if (kind === 'down') edits.moveEntry(body, id, 1);
          if (kind === 'own') edits.moveToNewLane(body, id);
          if (kind === 'lane') edits.moveLane(body, body.lanes[at % body.lanes.length].id, 1);
          if (kind === 'copy') edits.duplicateEntry(body, id);
          if (kind === 'remove') edits.removeEntry(body, id);
          count += kind === 'copy' ? 1 : kind === 'remove' ? -1 : 0;
        }
        const entries = edits.entriesOf(body);
        expect(entries.length).toBe(count);
        expect(new Set(entries.map(({ text }) => text)).size).toBe(count);
        expect(new Set(entries.map(({ id }) => id)).size).toBe(count);
        expect(body.lanes.every(({ base, entries: own }) => base !== 'none' || own.length > 0)).toBe(true);
      }),
    ));
});

describe('a ready-made set', () => {
  const columns = ['open', 'high', 'low', 'close', 'volume', 'value', 'vwap', 'trades'];

  it.each(edits.SETS.map((set) => [set.name, set] as const))(
    '%s can be evaluated, also twice in one ledger',
    (_, set) => {
      const body = ledger('');
      edits.addSet(body, set);
      edits.addSet(body, set);
      const texts = edits.entriesOf(body).map(({ text }) => text);
      expect(texts.length).toBe(2 * [...(set.prices ?? []), ...set.lanes.flat()].length);
      expect(planEntries(texts, { columns }).length).toBeGreaterThanOrEqual(texts.length);
      for (const text of texts) expect(parseEntry(text).name).toBeDefined();
    },
  );
});

describe('steps that are taken back', () => {
  const storage = () => {
    const kept = new Map<string, string>();
    return {
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, value: string) => void kept.set(key, value),
      removeItem: (key: string) => void kept.delete(key),
    };
  };

  it('lead back to the beginning and forth to the end, whatever was done', () =>
    fc.assert(
      fc.property(fc.array(fc.string(), { minLength: 1, maxLength: 40 }), (states) => {
        const history = new History(undefined, 'steps', 'start');
        let current = 'start';
        for (const [at, state] of states.entries()) history.changed(current, (current = `${at} ${state}`));
        const end = current;
        for (let back = history.undo(current); back !== undefined; back = history.undo(current)) current = back;
        expect(current).toBe('start');
        for (let forth = history.redo(current); forth !== undefined; forth = history.redo(current)) current = forth;
        expect(current).toBe(end);
      }),
    ));

  it('are one where a number is turned on, and two where one waits between', () => {
    const history = new History(undefined, 'steps', 'a');
    history.changed('a', 'b', 'turn x', 1000);
    history.changed('b', 'c', 'turn x', 1300);
    expect(history.undo('c')).toBe('a');
    const slow = new History(undefined, 'steps', 'a');
    slow.changed('a', 'b', 'turn x', 1000);
    slow.changed('b', 'c', 'turn x', 3000);
    expect(slow.undo('c')).toBe('b');
  });

  it('cannot be made again once something else was done', () => {
    const history = new History(undefined, 'steps', 'a');
    history.changed('a', 'b');
    history.undo('b');
    history.changed('a', 'c');
    expect([history.canUndo, history.canRedo]).toEqual([true, false]);
  });

  it('outlast a reload, but not another hand at the ledger', () => {
    const kept = storage();
    new History(kept, 'steps', 'a').changed('a', 'b');
    expect(new History(kept, 'steps', 'b').undo('b')).toBe('a');
    expect(new History(kept, 'steps', 'changed elsewhere').canUndo).toBe(false);
  });

  it('are forgotten from the oldest on, where there are very many', () => {
    const history = new History(undefined, 'steps', '0');
    for (let step = 0; step < 500; step++) history.changed(String(step), String(step + 1));
    let current = '500';
    for (let back = history.undo(current); back !== undefined; back = history.undo(current)) current = back;
    expect(current).toBe('300');
  });
});
