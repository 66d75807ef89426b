import { setImmediate } from 'node:timers/promises';
import { parentPort } from 'node:worker_threads';
import { problemOf } from '../http/problem';
import { settings } from '../settings';
import { connectStore } from '../store/openStore';
import { storeError } from '../store/storeError';
import { enterFile } from './enterFile';
import { FileImport, type FileFacts } from './fileImport';
import type { FromImport, ImportId, ImportOrder, ToImport } from './importProtocol';

/* A thread for imports. It may have several in hand: while one waits for its sender another one goes on. */

const port = parentPort!;
const say = (message: FromImport, transfer: ArrayBuffer[] = []) => port.postMessage(message, transfer);
const store = connectStore(settings.JAUNTY_STORE, settings.JAUNTY_STORE_READ);
const inHand = new Map<ImportId, Incoming>();

class Stopped extends Error {}

type ToIncoming = Extract<ToImport, { kind: 'bytes' | 'end' }>;

/** The bytes of an import, one block after the other; at the end, what the sender knows of the whole. */
class Incoming implements AsyncIterable<Uint8Array> {
  facts: FileFacts | undefined;
  private isStopped = false;
  private readonly waiting: ToIncoming[] = [];
  private wake = () => {};
  private rows = 0;
  private block: Uint8Array<ArrayBuffer> | undefined;
  private isThrough = false;

  constructor(private readonly id: ImportId) {}

  hear(message: ToIncoming): void {
    this.waiting.push(message);
    this.wake();
  }

  stop(): void {
    this.isStopped = true;
    this.wake();
  }

  /** Whatever takes long calls this often. @throws where a stop has come */
  readonly goOn = (): void => {
    if (this.isStopped) throw new Stopped();
  };

  /**
   * @param through  bytes of which nothing is held on to any more
   * @throws where a stop has come in the meantime
   */
  taken(rows: number, through?: Uint8Array): void {
    this.rows = rows;
    if (through === this.block) this.isThrough = true;
    this.goOn();
  }

  async *[Symbol.asyncIterator](): AsyncGenerator<Uint8Array> {
    for (;;) {
      while (this.waiting.length === 0 && !this.isStopped) await new Promise<void>((resolve) => (this.wake = resolve));
      this.goOn();
      const message = this.waiting.shift()!;
      if (message.kind === 'end') {
        this.facts = message;
        return;
      }
      this.block = message.bytes;
      this.isThrough = false;
      yield message.bytes;
      this.giveBack(message.bytes.buffer);
      await setImmediate(); // a stop, and other imports, come in between
    }
  }

  private giveBack(block: ArrayBuffer): void {
    const { id, rows } = this;
    if (this.isThrough) say({ kind: 'taken', id, rows, block }, [block]);
    else say({ kind: 'taken', id, rows, block: undefined });
  }
}

/** Carries an order out, and gives what is to be said of it. */
async function outcomeOf(id: ImportId, order: ImportOrder, incoming: Incoming) {
  const { query, choices, now } = order;
  const file = new FileImport(settings.JAUNTY_DATA, query, choices, now, settings.limits, incoming.goOn);
  try {
    await file.read(incoming, (rows, through) => incoming.taken(rows, through));
    incoming.goOn();
    const facts = incoming.facts ?? { bytes: 0, sha256: '' };
    return { kind: 'entered' as const, id, names: await enterFile(store, file, facts, order) };
  } catch (error) {
    if (error instanceof Stopped) return { kind: 'stopped' as const, id };
    return { kind: 'failed' as const, id, problem: problemOf(storeError(error)) };
  } finally {
    await file.close();
  }
}

async function carryOut(id: ImportId, order: ImportOrder): Promise<void> {
  const incoming = new Incoming(id);
  inHand.set(id, incoming);
  const outcome = await outcomeOf(id, order, incoming);
  inHand.delete(id);
  // whoever hears it finds nothing of the import but what was entered
  say(outcome);
  await store.settle();
  if (isClosing && inHand.size === 0) await end();
}

let isClosing = false;

async function end(): Promise<void> {
  await store.close();
  port.close();
}

port.on('message', (message: ToImport) => {
  switch (message.kind) {
    case 'begin':
      return void carryOut(message.id, message.order);
    case 'stop':
      return inHand.get(message.id)?.stop();
    case 'settle':
      return void store.settle();
    case 'close':
      isClosing = true;
      for (const incoming of inHand.values()) incoming.stop();
      if (inHand.size === 0) void end();
      return;
    default:
      return inHand.get(message.id)?.hear(message);
  }
});
