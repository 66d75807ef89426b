import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FairQueue } from './fairQueue';

describe('a queue that is fair', () => {
  it('lets whoever asks for one thing go before the rest of whoever asks for many', () => {
    const queue = new FairQueue<string>();
    for (const turn of [1, 2, 3, 4]) queue.push('many', `many ${turn}`);
    queue.push('one', 'one');
    expect([queue.shift(), queue.shift(), queue.shift()]).toEqual(['many 1', 'one', 'many 2']);
  });

  it('gives everything once, to each client in order, and between two turns of one to every other that waits', () =>
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.constantFrom('a', 'b', 'c'), fc.boolean())), (asked) => {
        const queue = new FairQueue<{ client: string; number: number }>();
        const items = asked.map(([client], number) => ({ client: client as string, number }));
        for (const item of items) queue.push(item.client, item);
        const removed = items.filter((_, number) => asked[number][1]);
        for (const item of removed)
          expect([queue.remove(item.client, item), queue.remove(item.client, item)]).toEqual([true, false]);
        const left = items.filter((item) => !removed.includes(item));
        expect(queue.size).toBe(left.length);
        const given: typeof items = [];
        for (let item = queue.shift(); item; item = queue.shift()) given.push(item);
        expect([...given].sort((x, y) => x.number - y.number)).toEqual(left);
        for (const client of ['a', 'b', 'c']) {
          const own = given.filter((item) => item.client === client).map(({ number }) => number);
          expect(own).toEqual([...own].sort((x, y) => x - y));
        }
        // nobody has two turns while somebody else has waited for one
        given.forEach((item, at) => {
          const last = given.slice(0, at).findLastIndex(({ client }) => client === item.client);
          if (last < 0) return;
          const between = new Set(given.slice(last + 1, at).map(({ client }) => client));
          const waiting = new Set(given.slice(at).map(({ client }) => client));
          for (const other of waiting) if (other !== item.client) expect(between.has(other)).toBe(true);
        });
      }),
    ));
});
