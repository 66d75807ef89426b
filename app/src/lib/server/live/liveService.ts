import { join, resolve } from 'node:path';
import { Worker } from 'node:worker_threads';
import { refuse, Refusal } from '$lib/api/problems';
import { RequestBody } from '../http/bodies';
import { settleSoon } from '../imports/importFile';
import { log } from '../log';
import { eventStream } from './eventStream';
import { settings } from '../settings';
import { THREAD_LIMITS } from '../threadLimits';
import type { StoredTape } from '../store/tapeRows';
import type { FeedFormat } from './feedReader';
import type { FollowChoice } from './followedTape';
import type { FromLive, LiveId, ToLive } from './liveProtocol';

/** Blocks that may be on their way to the thread: a sender that is faster than the store is slowed down. */
const BLOCKS_AHEAD = 32;
/** Bytes of answers that a sender leaves unread before it is let go. */
const MOST_UNREAD = 4 << 20;

type Heard = (message: Exclude<FromLive, { kind: 'written' }>) => void;

/** The thread of what is live, from the side of the server. */
class LiveThread {
  private readonly worker = new Worker(join(resolve(settings.JAUNTY_JOBS), 'liveThread.js'), THREAD_LIMITS);
  private readonly heard = new Map<LiveId, Heard>();
  private lastId: LiveId = 0;
  readonly ended: Promise<void>;

  constructor() {
    this.worker.unref();
    this.worker.on('message', (message: FromLive) => {
      if (message.kind === 'written') return settleSoon();
      this.heard.get(message.id)?.(message);
    });
    this.worker.on('error', (error) => log.error({ err: error }, 'the thread of what is live failed'));
    this.ended = new Promise((done) =>
      this.worker.once('exit', () => {
        if (thread === this) thread = undefined;
        const { problem } = refuse('internal-error', 'The live connection failed. Reload the page to reconnect.');
        for (const [id, heard] of this.heard) heard({ kind: 'failed', id, problem });
        done();
      }),
    );
  }

  begin(heard: Heard): LiveId {
    this.heard.set(++this.lastId, heard);
    return this.lastId;
  }

  forget(id: LiveId): void {
    this.heard.delete(id);
  }

  send(message: ToLive, transfer: ArrayBuffer[] = []): void {
    this.worker.postMessage(message, transfer);
  }
}

let thread: LiveThread | undefined;
const live = (): LiveThread => (thread ??= new LiveThread());

let feeds = 0;

/** Feeds that are open. */
export const feedsOpen = (): number => feeds;

/** Ends the thread; what was told to be safe is safe. */
export async function closeLive(): Promise<void> {
  thread?.send({ kind: 'close' });
  await thread?.ended;
}

/**
 * Feeds a tape with the lines of a body as they come. The answer comes beside it, a line of JSON for whatever is safe.
 * @param sender  whose records have numbers; empty for one that gives none
 */
export function feedAnswer(
  request: Request,
  tape: StoredTape,
  { sender, format }: { sender: string; format: FeedFormat | undefined },
): Response {
  if (feeds >= settings.limits.feeds)
    throw refuse('too-busy', `${settings.limits.feeds} feeds are open. Close one of them first.`);
  feeds++;
  const thread = live();
  const encoder = new TextEncoder();
  // a feed may be silent for a night
  const body = new RequestBody(request, { mostBytes: Infinity, silenceMs: 2 ** 31 - 1 });
  let ahead = 0;
  let goOn = () => {};
  let isOver = false;
  let isLeft = false;
  const source: UnderlyingDefaultSource<Uint8Array> = {
    start(answer) {
      const line = (text: string) => {
        if (isLeft) return;
        answer.enqueue(encoder.encode(`${text}\n`));
        if ((answer.desiredSize ?? 0) >= -MOST_UNREAD) return;
        // what is told piles up here where nobody reads it
        isLeft = true;
        body.abandon();
        answer.error(new Error('the answers are not read'));
      };
      const over = () => {
        if (isOver) return;
        isOver = true;
        feeds--;
        thread.forget(id);
        body.abandon();
        goOn();
        if (!isLeft) answer.close();
      };
      const id = thread.begin((message) => {
        if (message.kind === 'told') line(message.text);
        else if (message.kind === 'taken') {
          ahead--;
          goOn();
        } else if (message.kind === 'failed') {
          line(JSON.stringify({ problem: message.problem }));
          over();
        } else if (message.kind === 'over') over();
      });
      thread.send({ kind: 'feed', id, tapeId: tape.id, sender, format });
      const send = async () => {
        for await (const block of body) {
          if (isOver) return;
          const bytes = new Uint8Array(block); // of its own: it is handed over
          thread.send({ kind: 'bytes', id, bytes }, [bytes.buffer]);
          if (++ahead >= BLOCKS_AHEAD && !isOver) await new Promise<void>((resolve) => (goOn = resolve));
        }
        if (!isOver) thread.send({ kind: isLeft ? 'broken' : 'end', id });
      };
      send().catch((error: unknown) => {
        log.debug({ err: error }, 'a sender has gone');
        if (!isOver) thread.send({ kind: 'broken', id });
      });
    },
    cancel() {
      isLeft = true;
      body.abandon();
    },
  };
  const stream = new ReadableStream(source, new ByteLengthQueuingStrategy({ highWaterMark: 0 }));
  return new Response(stream, { headers: { 'content-type': 'application/x-ndjson', 'x-accel-buffering': 'no' } });
}

/** What changes of a tape, as server-sent events. @param version  of the tape whose bars the follower has */
export function followAnswer(tape: StoredTape, choice: FollowChoice, version: number | undefined): Response {
  const thread = live();
  let id: LiveId = 0;
  return eventStream(
    ({ say, leave }) => {
      id = thread.begin((message) => {
        if (message.kind === 'told') say(`id: ${message.version}\nevent: rows\ndata: ${message.text}\n\n`);
        else if (message.kind === 'failed') {
          say(`event: problem\ndata: ${JSON.stringify(message.problem)}\n\n`);
          leave();
        }
      });
      thread.send({ kind: 'follow', id, tapeId: tape.id, choice, version });
    },
    () => {
      thread.send({ kind: 'leave', id });
      thread.forget(id);
    },
  );
}

/** Changes a tape by other means than a feed: feeds of it wait meanwhile, and whoever follows it hears of it. */
export async function withTapeHeld<Result>({ id: tapeId }: StoredTape, work: () => Promise<Result>): Promise<Result> {
  if (!thread) return work(); // nothing is live
  const held = thread;
  let id: LiveId = 0;
  await new Promise<void>((done, failed) => {
    id = held.begin((message) => {
      if (message.kind === 'held') done();
      if (message.kind === 'failed') failed(new Refusal(message.problem));
    });
    held.send({ kind: 'hold', id, tapeId });
  });
  try {
    return await work();
  } finally {
    held.forget(id);
    held.send({ kind: 'let go', id, tapeId });
    held.send({ kind: 'changed', tapeId });
  }
}
