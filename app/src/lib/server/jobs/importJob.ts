import { createHash } from 'node:crypto';
import { parentPort, workerData } from 'node:worker_threads';
import { makeCalendar } from '@jaunty-ledger/core';
import { refuse } from '$lib/api/problems';
import { calendarOptions } from '$lib/api/tapes';
import { DelimitedReader } from '../files/delimitedReader';
import { TapeSpool } from '../files/tapeSpool';
import { TapeWriter } from '../files/tapeWriter';
import { problemOf } from '../problem';
import { connect } from '../store/connection';
import type { FromImport, ImportOrder, ToImport } from './importProtocol';

/* A thread of its own for each import: bytes come in as messages, one tape goes into the store, or nothing. */

const { folder, query, now } = workerData as ImportOrder;
const port = parentPort!;
const say = (message: FromImport) => port.postMessage(message);

const spool = await TapeSpool.open(folder);
const writer = new TapeWriter(query.kind, spool, () => reader.columns);
const reader: DelimitedReader = new DelimitedReader(query.kind, makeCalendar(calendarOptions(query)), writer);
const hash = createHash('sha256');
let bytes = 0;

/** Takes one message; gives what there is to say at the end, once there is. */
async function take(message: ToImport): Promise<FromImport | undefined> {
  switch (message.kind) {
    case 'bytes':
      bytes += message.bytes.length;
      hash.update(message.bytes);
      await reader.push(message.bytes);
      await writer.flush();
      say({ kind: 'taken', rows: writer.rows });
      return undefined;
    case 'end':
      await reader.end();
      await enter();
      return { kind: 'entered', name: query.name };
    case 'stop':
      return { kind: 'stopped' };
    default:
      return message satisfies never;
  }
}

async function enter(): Promise<void> {
  const { rejected, rejectedCount, lines, columns, repeatedTimes } = reader;
  if (rejectedCount > 0 && query.unreadable === 'refuse') {
    const count = rejectedCount === 1 ? 'One line' : `${rejectedCount} lines`;
    throw refuse(
      'unreadable-lines',
      `${count} cannot be read. ${reader.describeRejections()} Mend the file, or leave such lines out.`,
      reader.rejections(),
    );
  }
  const db = connect(folder);
  try {
    const { name, kind, zone, session, weekdays, closed, closeIncluded, file } = query;
    const report = {
      file: file ?? '',
      bytes,
      sha256: hash.digest('hex'),
      lines,
      rows: writer.rows,
      columns,
      rejectedCount,
      rejected,
      outOfOrder: writer.outOfOrder,
      repeatedTimes,
      enteredAt: now,
    };
    await writer.enter(
      db,
      {
        name,
        kind,
        zone,
        session: session ?? null,
        weekdays: weekdays ?? null,
        closed: closed ?? null,
        closeIncluded: closeIncluded ?? false,
        note: '',
        report,
      },
      query.interval,
    );
  } finally {
    await db.destroy();
  }
}

/** Messages are taken one after the other, whatever each waits for. */
async function run(): Promise<void> {
  const waiting: ToImport[] = [];
  let wake = () => {};
  port.on('message', (message: ToImport) => {
    // a stop goes before whatever waits
    if (message.kind === 'stop') waiting.length = 0;
    waiting.push(message);
    wake();
  });
  let outcome: FromImport | undefined;
  try {
    while (!outcome) {
      while (waiting.length === 0) await new Promise<void>((resolve) => (wake = resolve));
      outcome = await take(waiting.shift()!);
    }
  } catch (error) {
    outcome = { kind: 'failed', problem: problemOf(storeTrouble(error)) };
  }
  // said last: whoever hears it finds nothing of the import but what was entered
  await spool.close();
  say(outcome);
  port.close();
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

await run();
