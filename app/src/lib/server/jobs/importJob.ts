import { parentPort } from 'node:worker_threads';
import { refuse } from '$lib/api/problems';
import { appendImport } from '../files/appendImport';
import { FileImport, type FileFacts } from '../files/fileImport';
import { problemOf } from '../problem';
import { connect } from '../store/connection';
import type { FromImport, ImportOrder, ToImport } from './importProtocol';

/* A thread of its own for each import: an order and bytes come in as messages, tapes go into the store, or nothing. */

const port = parentPort!;
const say = (message: FromImport) => port.postMessage(message);

class Stopped extends Error {}

/** The bytes of the messages, one after the other; at the end, what the sender knows of the whole. */
class Incoming implements AsyncIterable<Uint8Array> {
  facts: FileFacts | undefined;
  readonly order: Promise<ImportOrder>;
  private readonly waiting: ToImport[] = [];
  private wake = () => {};
  private rows = 0;

  constructor() {
    let begin = (_: ImportOrder) => {};
    this.order = new Promise((resolve) => (begin = resolve));
    port.on('message', (message: ToImport) => {
      if (message.kind === 'begin') return begin(message.order);
      // a stop goes before whatever waits
      if (message.kind === 'stop') this.waiting.length = 0;
      this.waiting.push(message);
      this.wake();
    });
  }

  taken(rows: number): void {
    this.rows = rows;
  }

  async *[Symbol.asyncIterator](): AsyncGenerator<Uint8Array> {
    for (;;) {
      while (this.waiting.length === 0) await new Promise<void>((resolve) => (this.wake = resolve));
      const message = this.waiting.shift()!;
      switch (message.kind) {
        case 'bytes':
          yield message.bytes;
          say({ kind: 'taken', rows: this.rows });
          break;
        case 'end':
          this.facts = message;
          return;
        case 'stop':
          throw new Stopped();
        case 'begin':
          break; // it has been heard
        default:
          message satisfies never;
      }
    }
  }

  /** @throws where a stop has come while nothing was read */
  refuseIfStopped(): void {
    if (this.waiting.some(({ kind }) => kind === 'stop')) throw new Stopped();
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

async function run(): Promise<FromImport> {
  const incoming = new Incoming();
  const { folder, query, choices, now, append } = await incoming.order;
  const file = new FileImport(folder, query, choices, now);
  try {
    await file.read(incoming, (rows) => incoming.taken(rows));
    incoming.refuseIfStopped();
    const db = connect(folder);
    try {
      const facts = incoming.facts ?? { bytes: 0, sha256: '' };
      return {
        kind: 'entered',
        names: append ? await appendImport(db, file, query.name, facts) : await file.enter(db, facts),
      };
    } finally {
      await db.destroy();
    }
  } catch (error) {
    if (error instanceof Stopped) return { kind: 'stopped' };
    return { kind: 'failed', problem: problemOf(storeTrouble(error)) };
  } finally {
    await file.close();
  }
}

// said last: whoever hears it finds nothing of the import but what was entered
say(await run());
port.close();
