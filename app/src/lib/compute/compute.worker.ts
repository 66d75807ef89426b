import {
  BAR_FIELDS,
  firstRowFrom,
  makeCalendar,
  parseBarRule,
  type Bars,
  type Frame,
  type OtherThread,
  type TextColumns,
} from '@jaunty-ledger/core';
import { makeProblem, Refusal, type Problem } from '$lib/api/problems';
import { fromArrow, type ColumnTable } from '$lib/arrow/table';
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

async function open({ job, tape, rule, flagged, calendar, tapes }: Extract<ToWorker, { kind: 'open' }>): Promise<void> {
  const path = `/api/tapes/${encodeURIComponent(tape)}`;
  // what lies outside the session has no place where bars leave it out, and would hide the others where it is very much
  const kind = parseBarRule(rule).allHours && flagged.count <= MARKED_RECORDS ? 'only' : 'in-session';
  const [found, marked] = await Promise.all([
    table(barsPath(tape, rule, flagged.shown)),
    flagged.count > 0 ? table(`${path}/records?flagged=${kind}&limit=${MARKED_RECORDS}`) : undefined,
  ]);
  if (job !== latestOpen) throw new Stopped();
  const { columns, words = {} } = found;
  const bars = Object.fromEntries(
    [...BAR_FIELDS, 'complete'].map((field) => [field, columns[field]]),
  ) as unknown as Bars;
  const load = async (name: string) => frameOf(await table(barsPath(name, rule, flagged.shown)));
  const names = new Map(tapes.filter((name) => name !== tape).map((name) => [name, BAR_COLUMNS]));
  opened = {
    job,
    evaluation: new Evaluation({ ...frameOf(found), rule, calendar: makeCalendar(calendar) }, { names, load }),
  };
  const drawn: DrawnBars = {
    ...bars,
    texts: textsOf(found),
    rule,
    words,
    ...flagsOn(bars.time, marked?.columns),
  };
  say({ kind: 'opened', job, bars: drawn });
}

/** Flagged records by the bar that each lies in, or the one before where it lies in none. */
function flagsOn(
  time: Float64Array,
  records: ColumnTable['columns'] = {},
): Pick<DrawnBars, 'flaggedRow' | 'flaggedPrice'> {
  const at = (records.time ?? new Float64Array(0)) as Float64Array;
  const price = (records.price ?? records.close ?? records.bid ?? new Float64Array(0)) as Float64Array;
  const row = at.map((instant) => firstRowFrom(time, instant + 1) - 1);
  const before = row.findIndex((bar) => bar >= 0);
  const first = before < 0 ? row.length : before;
  return { flaggedRow: row.subarray(first), flaggedPrice: price.subarray(first) };
}

const BAR_COLUMNS: ReadonlySet<string> = new Set(BAR_FIELDS.filter((field) => field !== 'time' && field !== 'end'));

const barsPath = (tape: string, rule: string, flagged: boolean): string =>
  `/api/tapes/${encodeURIComponent(tape)}/bars?${new URLSearchParams({ rule, flagged: flagged ? 'yes' : 'no' })}`;

/** Bars as formulas see them. */
function frameOf(bars: ColumnTable): Frame {
  const { columns } = bars;
  const named = (names: Iterable<string>) =>
    Object.fromEntries([...names].map((name) => [name, columns[name] as Float64Array]));
  return {
    ...(named(['time', 'end']) as { time: Float64Array; end: Float64Array }),
    columns: named(BAR_COLUMNS),
    texts: textsOf(bars),
  };
}

const textsOf = ({ columns, words = {} }: ColumnTable): TextColumns =>
  Object.fromEntries(Object.keys(words).map((name) => [name, columns[name] as Float64Array]));

/** @throws {Refusal} with the server's own words, or that it does not answer */
async function table(path: string) {
  let response: Response;
  try {
    response = await fetch(path, ARROW);
  } catch (cause) {
    throw new Refusal(
      makeProblem('internal-error', 'The server does not answer. Is it still running? Load the page again once it is.'),
      { cause },
    );
  }
  if (!response.ok) throw new Refusal((await response.json()) as Problem);
  return fromArrow(new Uint8Array(await response.arrayBuffer()));
}
