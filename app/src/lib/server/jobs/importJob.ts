import { setImmediate } from 'node:timers/promises';
import { parentPort } from 'node:worker_threads';
import { refuse } from '$lib/api/problems';
import { appendImport } from '../files/appendImport';
import { FileImport, type FileFacts } from '../files/fileImport';
import { problemOf } from '../problem';
import { connectToAppend, settle } from '../store/connection';
import type { FromImport, ImportOrder, ToImport } from './importProtocol';

/* A thread for one import at a time: an order and bytes come in as messages, tapes go into the store, or nothing. */

const port = parentPort!;
const say = (message: FromImport, transfer: ArrayBuffer[] = []) => port.postMessage(message, transfer);

class Stopped extends Error {}

const waiting: ToImport[] = [];
let wake = () => {};
port.on('message', (message: ToImport) => {
  // a stop goes before whatever waits but the order that it stops
  if (message.kind === 'stop') waiting.splice(0, waiting.length, ...waiting.filter(({ kind }) => kind === 'begin'));
  waiting.push(message);
  wake();
});

async function nextMessage(): Promise<ToImport> {
  while (waiting.length === 0) await new Promise<void>((resolve) => (wake = resolve));
  return waiting.shift()!;
}

/** The next import. A stop that came too late for the one before is not meant for it. */
async function nextOrder(): Promise<ImportOrder> {
  for (;;) {
    const message = await nextMessage();
    if (message.kind === 'begin') return message.order;
  }
}

/** The bytes of an import, one block after the other; at the end, what the sender knows of the whole. */
class Incoming implements AsyncIterable<Uint8Array> {
  facts: FileFacts | undefined;
  private rows = 0;
  private block: Uint8Array<ArrayBuffer> | undefined;
  private isThrough = false;

  /**
   * @param through  bytes of which nothing is held on to any more
   * @throws where a stop has come in the meantime
   */
  taken(rows: number, through?: Uint8Array): void {
    this.rows = rows;
    if (through === this.block) this.isThrough = true;
    this.refuseIfStopped();
  }

  async *[Symbol.asyncIterator](): AsyncGenerator<Uint8Array> {
    for (;;) {
      const message = await nextMessage();
      switch (message.kind) {
        case 'bytes':
          this.block = message.bytes;
          this.isThrough = false;
          yield message.bytes;
          this.giveBack(message.bytes.buffer);
          await setImmediate(); // a stop comes in between
          break;
        case 'end':
          this.facts = message;
          return;
        case 'stop':
          throw new Stopped();
        case 'begin':
          throw new Error('an import was begun before the one before had ended');
        default:
          message satisfies never;
      }
    }
  }

  private giveBack(block: ArrayBuffer): void {
    if (this.isThrough) say({ kind: 'taken', rows: this.rows, block }, [block]);
    else say({ kind: 'taken', rows: this.rows, block: undefined });
  }

  /** @throws where a stop has come while nothing was read */
  refuseIfStopped(): void {
    if (waiting.some(({ kind }) => kind === 'stop')) throw new Stopped();
  }
}

/** A full disk and the like: errors of the store and the file system, told as such. */
function storeTrouble(error: unknown): unknown {
  const code = error instanceof Error && 'code' in error ? String(error.code) : '';
  if (code === 'ENOSPC' || code.startsWith('SQLITE_FULL') || code.startsWith('SQLITE_IOERR'))
    return refuse(
      'store-failed',
      'There is no room left where the store is kept. Nothing was entered; make room and try again.',
      {},
      { cause: error },
    );
  return error;
}

/** Carries an order out, and gives what is to be said of it; what can wait until then is left to `after`. */
async function run(
  { folder, query, choices, now, append }: ImportOrder,
  after: (act: () => Promise<void>) => void,
): Promise<FromImport> {
  const incoming = new Incoming();
  const file = new FileImport(folder, query, choices, now);
  try {
    await file.read(incoming, (rows, through) => incoming.taken(rows, through));
    incoming.refuseIfStopped();
    const db = connectToAppend(folder);
    after(() => settle(db));
    const facts = incoming.facts ?? { bytes: 0, sha256: '' };
    return {
      kind: 'entered',
      names: append ? await appendImport(db, file, query.name, facts) : await file.enter(db, facts),
    };
  } catch (error) {
    if (error instanceof Stopped) return { kind: 'stopped' };
    return { kind: 'failed', problem: problemOf(storeTrouble(error)) };
  } finally {
    await file.close();
  }
}

for (;;) {
  let rest = () => Promise.resolve();
  const outcome = await run(await nextOrder(), (act) => (rest = act));
  // whoever hears it finds nothing of the import but what was entered
  say(outcome);
  await rest();
}
