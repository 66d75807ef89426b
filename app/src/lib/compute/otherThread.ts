import { rollingHurst, type HurstMethod, type OtherThread } from '@jaunty-ledger/core';

/*
 * The later half of a long Hurst on a thread of its own. The column and the results lie in shared memory; the thread that
 * asks waits for a mark in it, since a thread that computes hears no messages.
 */

/** Said once to the thread that helps. */
export interface HalfOrder {
  x: SharedArrayBuffer;
  bars: number;
  by: HurstMethod;
  first: number;
  /** Two marks as 32-bit integers, then the three columns of results. */
  out: SharedArrayBuffer;
}

const PARTS = ['hurst', 'error', 'rsquared'] as const;
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
export function askingThread(post: (order: HalfOrder) => void, patienceMs = PATIENCE_MS): OtherThread {
  return {
    hurst: (column, bars, by, first) => {
      const x = new SharedArrayBuffer(column.byteLength);
      new Float64Array(x).set(column);
      const out = new SharedArrayBuffer(MARKS_BYTES + PARTS.length * column.byteLength);
      const marks = new Int32Array(out, 0, 2);
      post({ x, bars, by, first, out });
      const posted = performance.now();
      return {
        wait: () => {
          Atomics.wait(marks, 0, 0, patienceMs + 10 * (performance.now() - posted));
          if (Atomics.load(marks, 0) !== DONE) return rollingHurst(column, bars, by, undefined, first);
          const [hurst, error, rsquared] = PARTS.map((_, part) => resultsIn(out, column.length, part));
          return { hurst, error, rsquared };
        },
        giveUp: () => Atomics.store(marks, 1, 1),
      };
    },
  };
}

/** The thread that helps. */
export function workOut({ x, bars, by, first, out }: HalfOrder): void {
  const column = new Float64Array(x);
  const marks = new Int32Array(out, 0, 2);
  const end = (mark: number) => {
    Atomics.store(marks, 0, mark);
    Atomics.notify(marks, 0);
  };
  try {
    const progress = () => {
      if (Atomics.load(marks, 1) === 1) throw new GivenUp();
    };
    const result = rollingHurst(column, bars, by, progress, first);
    PARTS.forEach((part, index) => resultsIn(out, column.length, index).set(result[part]));
    end(DONE);
  } catch (error) {
    end(FAILED);
    if (!(error instanceof GivenUp)) throw error;
  }
}

const resultsIn = (out: SharedArrayBuffer, rows: number, part: number): Float64Array =>
  new Float64Array(out, MARKS_BYTES + part * rows * 8, rows);
