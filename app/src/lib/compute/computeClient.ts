import type { Bars, Stretch, Working } from '@jaunty-ledger/core';
import { Refusal } from '$lib/api/problems';
import type {
  DrawnBars,
  DrawnColumn,
  EntryText,
  FromWorker,
  Preview,
  JobId,
  RowRange,
  BarsAsked,
  ToWorker,
} from './protocol';

/** Results of the entries, on the bars as they were after so many told growths. */
type Evaluated = Extract<FromWorker, { kind: 'evaluated' }>;

type Answer = Exclude<FromWorker, { kind: 'failed' | 'progress' | 'previewed' }>;

/**
 * The page's only road to the core's work. Evaluations do not queue up: while one is under way only the latest of the
 * further ones waits, and those before it are answered with nothing.
 */
export class ComputeClient {
  private readonly worker = new Worker(new URL('./compute.worker.ts', import.meta.url), { type: 'module' });
  private readonly waiting = new Map<JobId, { resolve: (answer: Answer) => void; reject: (error: unknown) => void }>();
  private lastJob = 0;
  private growth = 0;
  /** The question whose bars the page shows. */
  private bars: JobId = 0;
  /** The latest question for bars. */
  private latestOpen: JobId = 0;
  private isEvaluating = false;
  /** The bars that the evaluation under way is on. */
  private evaluatedBars: JobId = 0;
  private next:
    | {
        entries: EntryText[];
        looked: readonly RowRange[];
        resolve: (results: Evaluated | undefined) => void;
        reject: (error: unknown) => void;
      }
    | undefined;

  private helper: Worker | undefined;
  private spare: ArrayBuffer[] = [];

  /** Number of the latest job, where the worker can see it while it works; only where the page may share memory. */
  private readonly stop = typeof SharedArrayBuffer === 'undefined' ? undefined : new SharedArrayBuffer(4);

  /**
   * @param progress  told the share that is done of an evaluation that takes long; undefined when it is over
   * @param preview   told of the rows that are looked at, ahead of the answer
   */
  constructor(
    private readonly progress: (share: number | undefined) => void = () => undefined,
    preview: (previews: readonly Preview[]) => void = () => undefined,
  ) {
    this.worker.onmessage = ({ data }: MessageEvent<FromWorker>) => {
      if (data.kind === 'progress') return this.progress(data.share);
      if (data.kind === 'previewed') {
        if (this.evaluatedBars === this.bars) preview(data.previews);
        return;
      }
      const waiting = this.waiting.get(data.job);
      this.waiting.delete(data.job);
      if (data.kind === 'failed') waiting?.reject(new Refusal(data.problem));
      else waiting?.resolve(data);
    };
    this.worker.onerror = (event) => {
      for (const { reject } of this.waiting.values())
        reject(new Error(event.message || 'the worker could not be started'));
      this.waiting.clear();
    };
  }

  /**
   * @returns undefined where other bars have been asked for since: those are shown instead
   * @throws {Refusal} with the reason where the bars cannot be had
   */
  async open(asked: BarsAsked): Promise<DrawnBars | undefined> {
    const job = (this.latestOpen = ++this.lastJob);
    this.giveUpBefore(job); // what is evaluated now is of other bars
    try {
      const answer = await this.ask({ kind: 'open', job, ...asked });
      if (answer.kind !== 'opened' || job !== this.latestOpen) return undefined;
      this.bars = job;
      this.getHelp();
      return answer.bars;
    } catch (error) {
      if (job !== this.latestOpen) return undefined;
      throw error;
    }
  }

  /** Tells of bars that have come, or gone on, since they were opened. @returns their number, which answers tell */
  grow(first: number, part: Bars): number {
    const growth = ++this.growth;
    this.worker.postMessage({
      kind: 'grow',
      job: ++this.lastJob,
      bars: this.bars,
      growth,
      first,
      part,
    } satisfies ToWorker);
    return growth;
  }

  /** The bars of a stretch, while all are on their way. */
  async glance(tape: string, rule: string, flagged: boolean, stretch: Stretch): Promise<DrawnBars | undefined> {
    const answer = await this.ask({ kind: 'glance', job: ++this.lastJob, tape, rule, flagged, stretch });
    return answer.kind === 'glanced' ? answer.bars : undefined;
  }

  /** Where memory may be shared, a second thread takes over part of what is very long; it starts once there are bars. */
  private getHelp(): void {
    if (!this.stop || this.helper) return;
    const { port1, port2 } = new MessageChannel();
    this.helper = new Worker(new URL('./helper.worker.ts', import.meta.url), { type: 'module' });
    this.helper.postMessage(port1, [port1]);
    this.worker.postMessage({ kind: 'help', job: ++this.lastJob, port: port2 } satisfies ToWorker, [port2]);
  }

  /** Takes back what nobody looks at any more. */
  giveBack(columns: readonly DrawnColumn[]): void {
    this.spare.push(...columns.map(({ values }) => values.buffer as ArrayBuffer));
  }

  /**
   * Results of the entries; undefined where a later evaluation took the place of this one.
   * @param looked  rows of which one would hear first
   */
  evaluate(entries: EntryText[], looked: readonly RowRange[] = []): Promise<Evaluated | undefined> {
    return new Promise((resolve, reject) => {
      this.next?.resolve(undefined);
      this.next = { entries, looked, resolve, reject };
      this.giveUpBefore(this.lastJob + 1);
      void this.evaluateNext();
    });
  }

  /** How the value of an entry at a row came about. */
  async working(entries: EntryText[], id: string, row: number): Promise<Working | undefined> {
    const answer = await this.ask({ kind: 'work', job: ++this.lastJob, bars: this.bars, entries, id, row });
    return answer.kind === 'worked' ? answer.working : undefined;
  }

  close(): void {
    this.worker.terminate();
    this.helper?.terminate();
  }

  /** Tells the worker, while it works, that a later question waits. */
  private giveUpBefore(job: JobId): void {
    if (!this.stop) return;
    const latest = new Int32Array(this.stop);
    Atomics.store(latest, 0, job);
    Atomics.notify(latest, 0);
  }

  private async evaluateNext(): Promise<void> {
    if (this.isEvaluating || !this.next) return;
    const { entries, looked, resolve, reject } = this.next;
    this.next = undefined;
    this.isEvaluating = true;
    try {
      const spare = this.spare.splice(0);
      const { stop, bars } = this;
      const job = ++this.lastJob;
      this.evaluatedBars = bars;
      const answer = await this.ask({ kind: 'evaluate', job, bars, entries, stop, spare, looked }, spare);
      resolve(answer.kind === 'evaluated' && bars === this.bars ? answer : undefined);
    } catch (error) {
      reject(error);
    } finally {
      this.isEvaluating = false;
      this.progress(undefined);
      void this.evaluateNext();
    }
  }

  private ask(message: ToWorker, transfer: ArrayBuffer[] = []): Promise<Answer> {
    return new Promise((resolve, reject) => {
      this.waiting.set(message.job, { resolve, reject });
      this.worker.postMessage(message, transfer);
    });
  }
}
