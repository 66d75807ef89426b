import { deserialize } from 'node:v8';
import { firstStarts, parseBarRule, runsOn, type StretchStarts } from '@jaunty-ledger/core';
import { LRUCache } from 'lru-cache';
import { settleSoon } from '../imports/importFile';
import { jobs } from '../jobs/jobs';
import { settings } from '../settings';
import { TASKS, type TaskInput, type TaskName } from './kinds';
import { keptStretches } from '../store/barStretches';
import type { StoredTape } from '../store/tapeRows';
import type { TaskClient } from './lane';
import { openLanes } from './lanes';
import { stretchesOf, type BarChoice, type TapeStretch } from './tapeStretches';
import type { TaskKind } from './taskKind';

/*
 * Light tasks are done at once. What was taken for light and is not begins anew as a heavy task. A heavy one is done here
 * where a thread is free, and else waits for its turn: with servers that share a store, for the first thread of any of them.
 */

/** Records that a task goes through and is light. */
const LIGHT_RECORDS = 400_000;

let tasks = 0;

/** Tasks that are worked on or wait for their turn. */
export const tasksInHand = (): number => tasks;

/** Answers of the last tasks whose kind says so: pages ask for the same again and again. */
const answers = new LRUCache<string, Uint8Array>({
  maxSize: settings.limits.answersMegabytes * 2 ** 20,
  sizeCalculation: ({ length }) => length + 1,
});

/**
 * Has a task done by a thread.
 * @throws {Refusal} where it is refused, takes too long, or too many wait
 * @throws {StoppedError} where its client has gone
 */
export async function runTask<Name extends TaskName>(
  name: Name,
  input: TaskInput<Name>,
  who: TaskClient,
): Promise<Uint8Array> {
  const kind = TASKS[name] as unknown as TaskKind<typeof input>;
  const key = kind.answerKey && `${name} ${kind.answerKey(input)}`;
  const known = key === undefined ? undefined : answers.get(key);
  if (known) return known;
  const { light } = openLanes();
  tasks++;
  let body: Uint8Array;
  try {
    const isLight = kind.records(input) <= LIGHT_RECORDS && !(kind.isPart && jobs());
    body = (isLight && (await light.run(name, input, who))) || (await runHeavy(name, input, who, kind.writes));
  } finally {
    tasks--;
  }
  if (key !== undefined) answers.set(key, body);
  if (kind.writes) settleSoon();
  return body;
}

/** Of what writes only the server itself knows whether it was done, so it is nobody else's. */
async function runHeavy<Name extends TaskName>(
  name: Name,
  input: TaskInput<Name>,
  who: TaskClient,
  writes = false,
): Promise<Uint8Array> {
  const { heavy } = openLanes();
  const queue = writes ? undefined : jobs();
  const kind = TASKS[name] as unknown as TaskKind<typeof input>;
  const wanted = queue && kind.bars?.(input);
  if (wanted) await cutTogether(wanted, who);
  const isHere = !queue || (settings.JAUNTY_ROLE === 'both' && heavy.isFree);
  return isHere ? (await heavy.run(name, input, who))! : queue.run(name, input, who);
}

/** Has the bars of a very long tape cut by several servers, a stretch each. They are kept for the task that needs them. */
async function cutTogether({ tape, rule, flagged }: BarChoice & { tape: StoredTape }, who: TaskClient): Promise<void> {
  const store = jobs()!.store;
  const stretches = await stretchesOf(store, tape, { rule, flagged }, settings.limits);
  if (stretches.length === 0) return;
  const kept = await store.read((rows) =>
    keptStretches(
      rows,
      stretches.map(({ key }) => key),
    ),
  );
  const missing = stretches.filter(({ key }) => !kept.has(key));
  if (missing.length === 0) return;
  const choice = { tape, rule, flagged };
  const starts = runsOn(parseBarRule(rule)) ? await startsIn(stretches, choice, who) : [];
  if (!starts) return; // they cannot be put together again: one server cuts them all
  const cut = async (stretch: TapeStretch) => {
    const at = stretches.indexOf(stretch);
    const skips = { own: starts[at] ?? 0, next: starts[at + 1] ?? 0 };
    await runHeavy('barStretch', { ...choice, stretch, skips }, who);
  };
  await Promise.all(missing.map(cut));
}

/** How many records of the session come before a bar begins in each stretch, where bars run on over the days and it is known. */
async function startsIn(
  stretches: readonly TapeStretch[],
  choice: BarChoice & { tape: StoredTape },
  who: TaskClient,
): Promise<number[] | undefined> {
  const found = stretches.slice(0, -1).map(({ range }) => runHeavy('barStarts', { ...choice, range }, who));
  return firstStarts((await Promise.all(found)).map((bytes) => deserialize(bytes) as StretchStarts));
}
