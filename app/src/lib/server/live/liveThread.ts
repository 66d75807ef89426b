import { parentPort } from 'node:worker_threads';
import { refuse } from '$lib/api/problems';
import type { FeedLine } from '$lib/api/live';
import { problemOf } from '../http/problem';
import { log } from '../log';
import { settings } from '../settings';
import { connectStore } from '../store/openStore';
import { storeError } from '../store/storeError';
import { tapeOfId, versionsById } from '../store/tapes';
import type { StoredTape } from '../store/tapeRows';
import { FeedReader } from './feedReader';
import { FollowedTape } from './followedTape';
import type { FromLive, LiveId, ToLive } from './liveProtocol';
import { TapeFeed } from './tapeFeed';

/* The thread of what is live: it takes feeds in, and keeps up to date what is followed. */

const port = parentPort!;
const say = (message: FromLive) => port.postMessage(message);
const store = connectStore(settings.JAUNTY_STORE, settings.JAUNTY_STORE_READ);
const { limits } = settings;

const feeds = new Map<LiveId, Feed>();
const tapeFeeds = new Map<number, { feed: TapeFeed; users: number }>();
const followed = new Map<string, FollowedTape>();
const followedBy = new Map<LiveId, { key: string; tape: FollowedTape }>();
const tapesOf = new Map<FollowedTape, number>();
/** Tapes that somebody else is changing, with how many do. */
const held = new Map<number, number>();

const fail = (id: LiveId, error: unknown) => say({ kind: 'failed', id, problem: problemOf(storeError(error)) });

/** What is sent for a tape over one connection. */
class Feed {
  private records = 0;
  private repeated = 0;
  private refused = 0;
  private isOver = false;
  /** What is put in is answered in its order. */
  private answers: Promise<void> = Promise.resolve();

  constructor(
    private readonly id: LiveId,
    private readonly reader: FeedReader,
    private readonly put: ReturnType<TapeFeed['open']>,
    private readonly tapeId: number,
  ) {}

  take(bytes: Uint8Array | undefined): void {
    if (this.isOver) return;
    try {
      const { refused, ...sent } = this.reader.read(bytes);
      for (const { line, says } of refused.slice(0, MOST_TOLD)) this.line({ refused: line, says });
      this.refused += refused.length;
      const entered = sent.rows > 0 ? this.put(sent) : undefined;
      // a failure is told where its answer is waited for
      entered?.catch(() => undefined);
      this.then(async () => {
        const found = await entered;
        if (found) {
          this.records += found.records;
          this.repeated += found.repeated;
          const { records: safe, repeated, sequence, late } = found;
          this.line({ safe, repeated, sequence, ...(late && { late }) });
        }
        if (bytes) say({ kind: 'taken', id: this.id });
      });
    } catch (error) {
      this.end(error);
    }
  }

  /** The sender has gone in the middle of a line, which may look like a whole one. */
  breakOff(): void {
    this.reader.dropLine();
    this.finish();
  }

  /** Reads what is left and tells what came in all. */
  finish(): void {
    this.take(undefined);
    this.then(() => {
      const { records, repeated, refused } = this;
      this.line({ ended: { records, repeated, refused } });
      this.end();
    });
  }

  private then(work: () => Promise<void> | void): void {
    this.answers = this.answers.then(work).catch((error: unknown) => this.end(error));
  }

  private line(line: FeedLine): void {
    say({ kind: 'told', id: this.id, text: JSON.stringify(line) });
  }

  private end(error?: unknown): void {
    if (this.isOver) return;
    this.isOver = true;
    feeds.delete(this.id);
    leaveTape(this.tapeId);
    if (error === undefined) say({ kind: 'over', id: this.id });
    else fail(this.id, error);
  }
}

/** What nobody follows any more is kept up to date for so long. */
const KEPT_MS = 30_000;
/** Lines of one block that are told to be none; the others are counted. */
const MOST_TOLD = 100;

async function tapeOf(id: number): Promise<StoredTape> {
  const tape = await store.read((rows) => tapeOfId(rows, id));
  if (!tape) throw refuse('unknown-tape', 'The tape was deleted.');
  return tape;
}

/** The one that takes records in for a tape, whoever sends them. */
function joinTape(tape: StoredTape): TapeFeed {
  const known = tapeFeeds.get(tape.id);
  if (known) {
    known.users++;
    return known.feed;
  }
  const feed = new TapeFeed(store, tape, limits.words, (change) => {
    for (const [one, tapeId] of tapesOf) if (tapeId === tape.id) one.fed(change);
    say({ kind: 'written' });
  });
  if (held.has(tape.id)) void feed.hold();
  tapeFeeds.set(tape.id, { feed, users: 1 });
  return feed;
}

function leaveTape(tapeId: number): void {
  const known = tapeFeeds.get(tapeId);
  if (known && --known.users === 0) tapeFeeds.delete(tapeId);
}

/** What comes for a feed before it has begun. */
const early = new Map<LiveId, ToLive[]>();

async function begin({ id, tapeId, sender, format }: Extract<ToLive, { kind: 'feed' }>): Promise<void> {
  early.set(id, []);
  try {
    const tape = await tapeOf(tapeId);
    const tapeFeed = joinTape(tape);
    try {
      const sequence = sender === '' ? null : await tapeFeed.sequenceOf(sender);
      const reader = new FeedReader(tape, format, tapeFeed.codeOf, sequence ?? -1);
      feeds.set(id, new Feed(id, reader, tapeFeed.open(sender), tapeId));
      say({ kind: 'told', id, text: JSON.stringify({ feeding: tape.name, sequence } satisfies FeedLine) });
    } catch (error) {
      leaveTape(tapeId);
      throw error;
    }
  } catch (error) {
    fail(id, error);
  }
  const messages = early.get(id)!;
  early.delete(id);
  messages.forEach(hear);
}

async function follow({ id, tapeId, choice, version }: Extract<ToLive, { kind: 'follow' }>): Promise<void> {
  early.set(id, []);
  try {
    const key = JSON.stringify([tapeId, choice]);
    const tape =
      followed.get(key) ??
      new FollowedTape(
        store,
        limits,
        await tapeOf(tapeId),
        choice,
        () => roomBeside(key),
        (error) => {
          for (const [one, { key: of }] of followedBy) if (of === key) fail(one, error);
          forget(key);
        },
      );
    // another one may have come first while the tape was looked up
    const shared = followed.get(key) ?? tape;
    if (shared !== tape) tape.close();
    followed.set(key, shared);
    tapesOf.set(shared, tapeId);
    followedBy.set(id, { key, tape: shared });
    shared.follow(id, version, (text, told) => say({ kind: 'told', id, text, version: told }));
  } catch (error) {
    fail(id, error);
  }
  const messages = early.get(id)!;
  early.delete(id);
  messages.forEach(hear);
}

/** How many bars there may be beside all that is followed already. */
function roomBeside(key: string): number {
  const others = [...followed].filter(([other]) => other !== key);
  return limits.followedBars - others.reduce((sum, [, { bars }]) => sum + bars, 0);
}

/** So often it is looked whether another server has changed what is followed here. */
const LOOKED_EVERY_MS = 400;

async function lookElsewhere(): Promise<void> {
  const ids = [...new Set(tapesOf.values())];
  if (ids.length === 0) return;
  const versions = await store.read((rows) => versionsById(rows, ids));
  for (const [tape, id] of tapesOf) tape.changedElsewhere(versions.get(id) ?? Infinity);
}

if (store.isShared) {
  const look = () =>
    void lookElsewhere()
      .catch((error: unknown) => log.warn({ err: error }, 'what is followed could not be looked for'))
      .finally(() => setTimeout(look, LOOKED_EVERY_MS).unref());
  setTimeout(look, LOOKED_EVERY_MS).unref();
}

function forget(key: string): void {
  const tape = followed.get(key);
  if (!tape) return;
  tape.close();
  followed.delete(key);
  tapesOf.delete(tape);
  for (const [id, { key: of }] of followedBy) if (of === key) followedBy.delete(id);
}

function leave(id: LiveId): void {
  const one = followedBy.get(id);
  if (!one) return;
  followedBy.delete(id);
  one.tape.leave(id);
  if (one.tape.isFollowed) return;
  // a page that loads its bars anew comes back, and then is told only what has changed meanwhile
  setTimeout(() => {
    if (!one.tape.isFollowed && followed.get(one.key) === one.tape) forget(one.key);
  }, KEPT_MS);
}

async function hold(id: LiveId, tapeId: number): Promise<void> {
  held.set(tapeId, (held.get(tapeId) ?? 0) + 1);
  await tapeFeeds.get(tapeId)?.feed.hold();
  say({ kind: 'held', id });
}

function letGo(tapeId: number): void {
  const others = held.get(tapeId)! - 1;
  if (others > 0) return void held.set(tapeId, others);
  held.delete(tapeId);
  tapeFeeds.get(tapeId)?.feed.letGo();
}

function hear(message: ToLive): void {
  if ('id' in message && early.has(message.id)) return void early.get(message.id)!.push(message);
  switch (message.kind) {
    case 'feed':
      return void begin(message);
    case 'bytes':
      return feeds.get(message.id)?.take(message.bytes);
    case 'end':
      return feeds.get(message.id)?.finish();
    case 'broken':
      return feeds.get(message.id)?.breakOff();
    case 'follow':
      return void follow(message);
    case 'leave':
      return leave(message.id);
    case 'hold':
      return void hold(message.id, message.tapeId);
    case 'let go':
      return letGo(message.tapeId);
    case 'changed':
      for (const [tape, tapeId] of tapesOf) if (tapeId === message.tapeId) tape.changedOtherwise();
      return;
    case 'close':
      return void store.close().finally(() => port.close());
  }
}

port.on('message', hear);
