import { catalogue, type OtherThread, type RowsOrder } from '@jaunty-ledger/core';

/*
 * The later rows of something long on a thread of its own. Columns and results lie in shared memory; the thread that asks
 * waits for a mark in it, since a thread that computes hears no messages.
 */

/** Said once to the thread that helps. */
export type SharedOrder = Omit<RowsOrder, 'columns'> & {
  columns: SharedArrayBuffer[];
  /** Two marks as 32-bit integers, then the columns of results. */
  out: SharedArrayBuffer;
};

const MARKS_BYTES = 8;
/** The first mark: what became of it. The second: 1 where nobody waits any more. */
const DONE = 1;
const FAILED = 2;

class GivenUp extends Error {}

/** So long, and ten times as long as the own half took, is waited for the other one. */
const PATIENCE_MS = 5000;

/**
 * The thread that asks. One that does not answer is done without: it may never have started, and whoever waits for it
 * hears no message that says so.
 * @param post  hands an order to the thread that helps
 */
export function askingThread(post: (order: SharedOrder) => void, patienceMs = PATIENCE_MS): OtherThread {
  return {
    begin: (order, parts) => {
      const rows = order.columns[0].length;
      const out = new SharedArrayBuffer(MARKS_BYTES + parts * rows * 8);
      const marks = new Int32Array(out, 0, 2);
      post({ ...order, columns: order.columns.map(shared), out });
      const posted = performance.now();
      return {
        wait: () => {
          Atomics.wait(marks, 0, 0, patienceMs + 10 * (performance.now() - posted));
          if (Atomics.load(marks, 0) !== DONE) return rowsOf(order);
          return Array.from({ length: parts }, (_, part) => resultsIn(out, rows, part));
        },
        giveUp: () => Atomics.store(marks, 1, 1),
      };
    },
  };
}

/** The thread that helps. */
export function workOut({ out, columns, ...order }: SharedOrder): void {
  const marks = new Int32Array(out, 0, 2);
  const end = (mark: number) => {
    Atomics.store(marks, 0, mark);
    Atomics.notify(marks, 0);
  };
  try {
    const results = rowsOf({ ...order, columns: columns.map((column) => new Float64Array(column)) }, () => {
      if (Atomics.load(marks, 1) === 1) throw new GivenUp();
    });
    results.forEach((column, part) => resultsIn(out, column.length, part).set(column));
    end(DONE);
  } catch (error) {
    end(FAILED);
    if (!(error instanceof GivenUp)) throw error;
  }
}

const rowsOf = ({ name, columns, settings, first }: RowsOrder, progress?: () => void): readonly Float64Array[] =>
  catalogue.get(name)!.computeFrom!(columns, settings, first, progress);

function shared(column: Float64Array): SharedArrayBuffer {
  const buffer = new SharedArrayBuffer(column.byteLength);
  new Float64Array(buffer).set(column);
  return buffer;
}

const resultsIn = (out: SharedArrayBuffer, rows: number, part: number): Float64Array =>
  new Float64Array(out, MARKS_BYTES + part * rows * 8, rows);
