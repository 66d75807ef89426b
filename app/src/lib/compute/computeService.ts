import {
  BAR_COLUMNS,
  BAR_FIELDS,
  BarRows,
  barsBetween,
  firstRowFrom,
  frameOf,
  makeCalendar,
  parseBarRule,
  rfc3339,
  type Bars,
  type Frame,
  type OtherThread,
  type Stretch,
} from '@jaunty-ledger/core';
import { fittingRule } from '$lib/api/fittingRule';
import { makeProblem, Refusal } from '$lib/api/problems';
import { aliasesOf } from '$lib/api/tapes';
import { barsOf, wordsOf } from '$lib/arrow/barTable';
import { columnNamed, type Table } from '@jaunty-ledger/files/tables/table';
import { Evaluation, type EvaluationCourse } from './evaluation';
import { askingThread } from './otherThread';
import type { DrawnBars, FromWorker, JobId, ToWorker } from './protocol';

type Say = (message: FromWorker, transfer?: ArrayBuffer[]) => void;

/** A table of the server at a path, and the version of the tape that it is about. */
export type TableAt = (path: string) => Promise<{ table: Table; version: string | null }>;

class Stopped extends Error {}

/** Flagged records that are marked in the chart, from the first on: as many as the server gives at once. */
const MARKED_RECORDS = 100_000;

/** A tape may change between two questions about it; they are asked again until both answers are of one version. */
const MOST_ATTEMPTS = 4;

/** The bars that formulas are evaluated on. */
interface Opened {
  job: JobId;
  evaluation: Evaluation;
  bars: Bars;
  /** The frame of some of them that have come. */
  frameOf: (bars: Bars) => Frame;
  /** The bars with those that have come since, and how often some have. */
  rows: BarRows | undefined;
  growth: number;
}

/**
 * The browser's side of the core: bars come in here once, and formulas are evaluated on them away from the page. Every
 * answer belongs to its question; the answer to one whose place another has taken is that it was given up.
 */
export class ComputeService {
  /** The bars that were opened last, by the number of the question that asked for them. */
  private opened: Opened | undefined;
  /** The latest question for bars: the answer to an earlier one, however late, opens nothing. */
  private latestOpen: JobId = 0;
  private other: OtherThread | undefined;

  constructor(
    private readonly tableAt: TableAt,
    private readonly say: Say,
    private readonly sharesMemory = false,
  ) {}

  async hear(message: ToWorker): Promise<void> {
    const { job } = message;
    try {
      await this.answer(message);
    } catch (error) {
      if (error instanceof Stopped) return this.say({ kind: 'stopped', job });
      const problem =
        error instanceof Refusal
          ? error.problem
          : makeProblem('internal-error', error instanceof Error ? error.message : String(error));
      this.say({ kind: 'failed', job, problem });
    }
  }

  private async answer(message: ToWorker): Promise<void> {
    const { job } = message;
    switch (message.kind) {
      case 'help':
        this.other = askingThread((order) => message.port.postMessage(order));
        return;
      case 'open':
        this.latestOpen = job;
        return this.say({ kind: 'opened', job, bars: await this.open(message) });
      case 'glance': {
        const { tape, rule, flagged, stretch } = message;
        const { table, version } = await this.tableAt(barsPath(tape, rule, flagged, stretch));
        const about = { rule, words: wordsOf(table), before: 0, version: Number(version) };
        const bars = { ...barsOf(table), ...about, ...flagsOn(NO_TIMES) };
        return this.say({ kind: 'glanced', job, bars });
      }
      case 'evaluate': {
        const evaluation = this.evaluationOn(message.bars);
        evaluation.useAgain(message.spare);
        const course = courseOf(job, message.stop, this.say);
        const { entries, looked } = message;
        const results = await evaluation.evaluate(entries, { ...course, looked, other: this.other });
        this.evaluationOn(message.bars);
        const buffers = results.flatMap((result) =>
          result.state === 'drawn' ? result.columns.map(({ values }) => values.buffer) : [],
        );
        const { growth } = this.opened!;
        return this.say({ kind: 'evaluated', job, results, growth }, buffers as ArrayBuffer[]);
      }
      case 'grow': {
        if (this.opened?.job !== message.bars) return; // others have been opened since
        const { opened } = this;
        opened.rows ??= new BarRows(opened.bars);
        const changed = opened.rows.put(message.first, message.part);
        opened.evaluation.grow(opened.frameOf(opened.rows.bars()), changed);
        opened.growth = message.growth;
        return;
      }
      case 'work': {
        const { bars, entries, id, row } = message;
        const working = await this.evaluationOn(bars).working(entries, id, row);
        return this.say({ kind: 'worked', job, working });
      }
      default:
        message satisfies never;
    }
  }

  /** @throws {Stopped} where other bars have been opened since */
  private evaluationOn(bars: JobId): Evaluation {
    if (this.opened?.job !== bars) throw new Stopped();
    return this.opened.evaluation;
  }

  /** Loads bars, which entries are evaluated on from then on. */
  private async open({
    job,
    tape,
    rule,
    flagged,
    calendar,
    tapes,
    alone,
  }: Extract<ToWorker, { kind: 'open' }>): Promise<DrawnBars> {
    const path = `/api/tapes/${encodeURIComponent(tape)}`;
    // what lies outside the session has no place where bars leave it out, and would hide the others where it is very much
    const kind = parseBarRule(rule).allHours && flagged.count <= MARKED_RECORDS ? 'only' : 'in-session';
    const asked = () =>
      Promise.all([
        this.tableAt(barsPath(tape, rule, flagged.shown)),
        flagged.count > 0 ? this.tableAt(`${path}/records?flagged=${kind}&limit=${MARKED_RECORDS}`) : undefined,
      ]);
    let [found, marked] = await asked();
    for (let attempt = 1; marked && marked.version !== found.version && attempt < MOST_ATTEMPTS; attempt++)
      [found, marked] = await asked();
    if (job !== this.latestOpen) throw new Stopped();
    const ours = makeCalendar(calendar);
    const load = async (name: string) => {
      const other = tapes.find((one) => one.name === name);
      const fitting = other ? fittingRule(rule, other) : rule;
      return frameOf(barsOf((await this.tableAt(barsPath(name, fitting, flagged.shown))).table), ours, {
        rule: fitting,
        aliases: other && aliasesOf(other),
      });
    };
    const names = new Map(
      tapes
        .filter(({ name }) => name !== tape)
        .map(({ name, numbers }) => [name, new Set([...BAR_COLUMNS, ...numbers.map((column) => column.name)])]),
    );
    const all = barsOf(found.table);
    const { bars: own, before } = alone ? barsBetween(all, alone.from, alone.to) : { bars: all, before: 0 };
    // what the page draws and what is evaluated on is one memory where it may be
    const bars = this.sharesMemory ? withSharedMemory(own) : own;
    const words = wordsOf(found.table);
    if (this.sharesMemory) free(found.table);
    const aliasesByName = new Map(tapes.map((one) => [one.name, aliasesOf(one)]));
    const aliases = aliasesByName.get(tape);
    const frameOfBars = (some: Bars) => frameOf(some, ours, { rule, tape, words, aliases });
    const evaluation = new Evaluation(frameOfBars(bars), { names, aliases: aliasesByName, load });
    this.opened = { job, evaluation, bars, frameOf: frameOfBars, rows: undefined, growth: 0 };
    const version = Number(found.version);
    return { ...bars, rule, words, before, version, ...flagsOn(bars.time, marked?.table, alone?.to) };
  }
}

/** Work that takes longer than this is told of, and given up where something newer waits. */
const LONG_MS = 120;

/** After a preview, the rest waits so long for something newer. */
const REST_MS = 60;

/** Tells of long work, and gives it up once the number in `stop` is that of a later job. */
function courseOf(
  job: JobId,
  stop: SharedArrayBuffer | undefined,
  say: Say,
): Pick<EvaluationCourse, 'progress' | 'preview'> {
  const started = performance.now();
  const latest = stop && new Int32Array(stop);
  const giveUpIfLater = () => {
    if (latest && Atomics.load(latest, 0) > job) throw new Stopped();
  };
  let told = started;
  let reached = 0;
  let hasPreviewed = false;
  return {
    progress: (share) => {
      const now = performance.now();
      const isLong = now - started >= LONG_MS;
      if (isLong || hasPreviewed) giveUpIfLater();
      if (!isLong || now - told < 50) return;
      told = now;
      // a formula of several long parts begins anew with each
      reached = Math.max(reached, share);
      say({ kind: 'progress', job, share: reached });
    },
    preview: (previews) => {
      if (previews.length === 0) return;
      say({ kind: 'previewed', job, previews });
      // who has seen what he turned to can do without the rest of it, and may turn on
      hasPreviewed = true;
      giveUpIfLater();
      if (latest) Atomics.wait(latest, 0, Atomics.load(latest, 0), REST_MS);
      giveUpIfLater();
    },
  };
}

/** Flagged records before an instant, by the bar that each lies in, or the one before where it lies in none. */
function flagsOn(
  time: Float64Array,
  records: Table = [],
  end = Infinity,
): Pick<DrawnBars, 'flaggedRow' | 'flaggedPrice'> {
  const column = (...names: string[]) =>
    (names.map((name) => columnNamed(records, name)).find(Boolean)?.values ?? new Float64Array(0)) as Float64Array;
  const instants = column('time');
  const last = firstRowFrom(instants, end);
  const row = instants.subarray(0, last).map((instant) => firstRowFrom(time, instant + 1) - 1);
  const price = column('price', 'close', 'bid');
  const before = row.findIndex((bar) => bar >= 0);
  const first = before < 0 ? row.length : before;
  return { flaggedRow: row.subarray(first), flaggedPrice: price.subarray(first, last) };
}

function barsPath(tape: string, rule: string, flagged: boolean, stretch?: Stretch): string {
  const range = stretch && { from: rfc3339(stretch.from), to: rfc3339(stretch.to) };
  const query = new URLSearchParams({ rule, flagged: flagged ? 'yes' : 'no', ...range });
  return `/api/tapes/${encodeURIComponent(tape)}/bars?${query}`;
}

/** What not every browser's ArrayBuffer has: moving its bytes elsewhere, which here is nowhere. */
interface Movable {
  transfer: (bytes: number) => ArrayBuffer;
}

/** Gives back the memory of a table that nobody looks at any more, which would else wait for a collection of garbage. */
function free(table: Table): void {
  const buffers = new Set(table.map(({ values }) => values.buffer as ArrayBuffer & Partial<Movable>));
  for (const buffer of buffers) buffer.transfer?.(0);
}

const NO_TIMES = new Float64Array(0);

/** Bars whose columns lie in memory that threads share; a column without a value in it is one for all such. */
function withSharedMemory(bars: Bars): Bars {
  let blank: Float64Array | undefined;
  const shared = (column: Float64Array): Float64Array => {
    const isBlank = column.every((value) => value !== value);
    if (isBlank && blank) return blank;
    const copy = new Float64Array(new SharedArrayBuffer(column.byteLength));
    copy.set(column);
    if (isBlank) blank = copy;
    return copy;
  };
  const all = (columns: Record<string, Float64Array> = {}) =>
    Object.fromEntries(Object.entries(columns).map(([name, column]) => [name, shared(column)]));
  const fields = Object.fromEntries(BAR_FIELDS.map((name) => [name, shared(bars[name])]));
  return {
    ...(fields as Record<(typeof BAR_FIELDS)[number], Float64Array>),
    complete: bars.complete.slice(),
    texts: all(bars.texts),
    numbers: all(bars.numbers),
  };
}
