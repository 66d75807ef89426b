import { firstRowFrom, makeCalendar, parseBarRule, type OtherThread } from '@jaunty-ledger/core';
import { ask } from '$lib/api/ask';
import { makeProblem, Refusal } from '$lib/api/problems';
import { BAR_COLUMNS, barsOf, frameOf, wordsOf } from '$lib/arrow/barTable';
import { columnNamed, fromArrow, type Table } from '$lib/arrow/table';
import { Evaluation, type Told } from './evaluation';
import { askingThread } from './otherThread';
import type { DrawnBars, FromWorker, JobId, ToWorker } from './protocol';

/* The browser's side of the core: bars come in here once, and formulas are evaluated on them away from the page. */

/** The bars that were opened last, by the number of the question that asked for them. */
let opened: { job: JobId; evaluation: Evaluation } | undefined;
/** The latest question for bars: the answer to an earlier one, however late, opens nothing. */
let latestOpen: JobId = 0;
let other: OtherThread | undefined;

self.onmessage = async ({ data: message }: MessageEvent<ToWorker>) => {
  const { job } = message;
  try {
    switch (message.kind) {
      case 'help':
        other = askingThread((order) => message.port.postMessage(order));
        return;
      case 'open':
        latestOpen = job;
        return await open(message);
      case 'evaluate': {
        const evaluation = evaluationOn(message.bars);
        evaluation.useAgain(message.spare);
        const course = courseOf(job, message.stop);
        const { entries, looked } = message;
        const results = await evaluation.evaluate(entries, { ...course, looked, other });
        evaluationOn(message.bars);
        const buffers = results.flatMap((result) =>
          result.state === 'drawn' ? result.columns.map(({ values }) => values.buffer) : [],
        );
        return say({ kind: 'evaluated', job, results }, buffers as ArrayBuffer[]);
      }
      case 'work': {
        const { bars, entries, id, row } = message;
        return say({ kind: 'worked', job, working: await evaluationOn(bars).working(entries, id, row) });
      }
      default:
        message satisfies never;
    }
  } catch (error) {
    if (error instanceof Stopped) return say({ kind: 'stopped', job });
    const problem =
      error instanceof Refusal
        ? error.problem
        : makeProblem('internal-error', error instanceof Error ? error.message : String(error));
    say({ kind: 'failed', job, problem });
  }
};

class Stopped extends Error {}

/** @throws {Stopped} where other bars have been opened since */
function evaluationOn(bars: JobId): Evaluation {
  if (opened?.job !== bars) throw new Stopped();
  return opened.evaluation;
}

/** Work that takes longer than this is told of, and given up where something newer waits. */
const LONG_MS = 120;

/** After a glimpse, the rest waits so long for something newer. */
const REST_MS = 60;

/** Tells of long work, and gives it up once the number in `stop` is that of a later job. */
function courseOf(job: JobId, stop: SharedArrayBuffer | undefined): Pick<Told, 'progress' | 'glimpse'> {
  const started = performance.now();
  const latest = stop && new Int32Array(stop);
  const giveUpIfLater = () => {
    if (latest && Atomics.load(latest, 0) > job) throw new Stopped();
  };
  let told = started;
  let reached = 0;
  let hasGlimpsed = false;
  return {
    progress: (share) => {
      const now = performance.now();
      const isLong = now - started >= LONG_MS;
      if (isLong || hasGlimpsed) giveUpIfLater();
      if (!isLong || now - told < 50) return;
      told = now;
      // a formula of several long parts begins anew with each
      reached = Math.max(reached, share);
      say({ kind: 'progress', job, share: reached });
    },
    glimpse: (glimpses) => {
      if (glimpses.length === 0) return;
      say({ kind: 'glimpsed', job, glimpses });
      // who has seen what he turned to can do without the rest of it, and may turn on
      hasGlimpsed = true;
      giveUpIfLater();
      if (latest) Atomics.wait(latest, 0, Atomics.load(latest, 0), REST_MS);
      giveUpIfLater();
    },
  };
}

function say(message: FromWorker, transfer: ArrayBuffer[] = []): void {
  self.postMessage(message, { transfer });
}

const ARROW = { headers: { accept: 'application/vnd.apache.arrow.stream' } };

/** Flagged records that are marked in the chart, from the first on: as many as the server gives at once. */
const MARKED_RECORDS = 100_000;

/** A tape may change between two questions about it; they are asked again until both answers are of one version. */
const MOST_ATTEMPTS = 4;

async function open({ job, tape, rule, flagged, calendar, tapes }: Extract<ToWorker, { kind: 'open' }>): Promise<void> {
  const path = `/api/tapes/${encodeURIComponent(tape)}`;
  // what lies outside the session has no place where bars leave it out, and would hide the others where it is very much
  const kind = parseBarRule(rule).allHours && flagged.count <= MARKED_RECORDS ? 'only' : 'in-session';
  const asked = () =>
    Promise.all([
      tableAt(barsPath(tape, rule, flagged.shown)),
      flagged.count > 0 ? tableAt(`${path}/records?flagged=${kind}&limit=${MARKED_RECORDS}`) : undefined,
    ]);
  let [found, marked] = await asked();
  for (let attempt = 1; marked && marked.version !== found.version && attempt < MOST_ATTEMPTS; attempt++)
    [found, marked] = await asked();
  if (job !== latestOpen) throw new Stopped();
  const load = async (name: string) => frameOf((await tableAt(barsPath(name, rule, flagged.shown))).table);
  const names = new Map(tapes.filter((name) => name !== tape).map((name) => [name, BAR_COLUMNS]));
  const frame = { ...frameOf(found.table), rule, calendar: makeCalendar(calendar) };
  opened = { job, evaluation: new Evaluation(frame, { names, load }) };
  const bars = barsOf(found.table);
  const drawn: DrawnBars = { ...bars, rule, words: wordsOf(found.table), ...flagsOn(bars.time, marked?.table) };
  say({ kind: 'opened', job, bars: drawn });
}

/** Flagged records by the bar that each lies in, or the one before where it lies in none. */
function flagsOn(time: Float64Array, records: Table = []): Pick<DrawnBars, 'flaggedRow' | 'flaggedPrice'> {
  const column = (...names: string[]) =>
    (names.map((name) => columnNamed(records, name)).find(Boolean)?.values ?? new Float64Array(0)) as Float64Array;
  const row = column('time').map((instant) => firstRowFrom(time, instant + 1) - 1);
  const price = column('price', 'close', 'bid');
  const before = row.findIndex((bar) => bar >= 0);
  const first = before < 0 ? row.length : before;
  return { flaggedRow: row.subarray(first), flaggedPrice: price.subarray(first) };
}

const barsPath = (tape: string, rule: string, flagged: boolean): string =>
  `/api/tapes/${encodeURIComponent(tape)}/bars?${new URLSearchParams({ rule, flagged: flagged ? 'yes' : 'no' })}`;

/** @throws {Refusal} with the server's own words, or that it does not answer */
async function tableAt(path: string): Promise<{ table: Table; version: string | null }> {
  const response = await ask(fetch, path, ARROW);
  const table = fromArrow(new Uint8Array(await response.arrayBuffer()));
  return { table, version: response.headers.get('tape-version') };
}
