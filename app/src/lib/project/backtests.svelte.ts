import { SvelteMap } from 'svelte/reactivity';
import { reasonOf } from '$lib/api/problems';
import { ACCURACY, type AccuracyBody, type ToldAccuracy } from '$lib/works/accuracy/work';
import { call } from '$lib/works/call';

/** The backtest of one model. */
export type Backtest =
  | { state: 'computing'; share: number }
  | { state: 'done'; answer: ToldAccuracy }
  | { state: 'failed'; reason: string }
  | { state: 'stopped' };

/** A page asks for this many backtests at once. */
const CONCURRENCY = 2;
/** Requests start once the question has not changed for this time: a number that is turned asks once. */
const SETTLED_MS = 500;

type Question = Omit<AccuracyBody, 'models'>;

/** Backtests of the models of a page: each has a request of its own, so that a slow one delays no other. */
export class Backtests {
  /** By model, of the latest question: an answer to another question is never shown. */
  readonly all = new SvelteMap<string, Backtest>();
  private question: Question | undefined;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private readonly running = new Map<string, AbortController>();

  /** Backtests models; those of the same question that are done, stopped or under way stay as they are. */
  ask({ models, ...question }: AccuracyBody): void {
    if (JSON.stringify(question) !== JSON.stringify(this.question)) this.clear();
    this.question = question;
    for (const model of [...this.all.keys()]) if (!models.includes(model)) this.forget(model);
    for (const model of models) if (!this.all.has(model)) this.all.set(model, { state: 'computing', share: 0 });
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.next(), SETTLED_MS);
  }

  /** Stops one model; `retry` asks for it again. */
  stop(model: string): void {
    this.forget(model);
    this.all.set(model, { state: 'stopped' });
    this.next();
  }

  retry(model: string): void {
    this.all.set(model, { state: 'computing', share: 0 });
    this.next();
  }

  /** Forgets all answers and stops all requests. */
  clear(): void {
    clearTimeout(this.timer);
    for (const model of [...this.all.keys()]) this.forget(model);
  }

  private forget(model: string): void {
    this.running.get(model)?.abort();
    this.running.delete(model);
    this.all.delete(model);
  }

  private next(): void {
    for (const [model, { state }] of this.all) {
      if (this.running.size >= CONCURRENCY) return;
      if (state === 'computing' && !this.running.has(model)) void this.run(this.question!, model);
    }
  }

  private async run(question: Question, model: string): Promise<void> {
    const abort = new AbortController();
    const { signal } = abort;
    this.running.set(model, abort);
    const show = (backtest: Backtest) => void (signal.aborted || this.all.set(model, backtest));
    try {
      const answer = await call(
        ACCURACY,
        { ...question, models: [model] },
        {
          fetcher: (input, init) => fetch(input, { ...init, signal }),
          onProgress: (share) => show({ state: 'computing', share }),
        },
      );
      show({ state: 'done', answer });
    } catch (error) {
      show({ state: 'failed', reason: reasonOf(error) });
    }
    if (signal.aborted) return;
    this.running.delete(model);
    this.next();
  }
}

type ModelBacktest = ToldAccuracy['models'][number];

/** The answer of a backtest that is done. */
export const answerOf = (backtest: Backtest | undefined): ModelBacktest | undefined =>
  backtest?.state === 'done' ? backtest.answer.models[0] : undefined;
