import { SvelteMap } from 'svelte/reactivity';
import { postAccuracy } from '$lib/api/client';
import { reasonOf } from '$lib/api/problems';
import type { AccuracyBody, ToldAccuracy } from '$lib/api/projections';

/** The backtest of one model. */
export type Backtest =
  | { state: 'computing'; share: number }
  | { state: 'done'; answer: ToldAccuracy }
  | { state: 'failed'; reason: string }
  | { state: 'stopped' };

/** A page asks for this many backtests at once. */
const CONCURRENCY = 2;

/** Backtests of the models of a page: each has a request of its own, so that a slow one delays no other. */
export class Backtests {
  /** By model, of the question that was asked last. */
  readonly all = new SvelteMap<string, Backtest>();
  private question = '';
  private readonly running = new Map<string, AbortController>();

  /**
   * Backtests models; those of the same question that are done or under way stay.
   * @param body  the question, whose models are asked for one by one
   */
  ask(body: AccuracyBody): void {
    const { models, ...rest } = body;
    const question = JSON.stringify(rest);
    if (question !== this.question) this.clear();
    this.question = question;
    for (const model of this.all.keys()) if (!models.includes(model)) this.forget(model);
    for (const model of models) if (!this.all.has(model)) this.all.set(model, { state: 'computing', share: 0 });
    this.next(rest);
  }

  /** Stops one model; `retry` asks for it again. */
  stop(model: string): void {
    this.forget(model);
    this.all.set(model, { state: 'stopped' });
    this.next(JSON.parse(this.question) as Omit<AccuracyBody, 'models'>);
  }

  retry(model: string): void {
    this.all.set(model, { state: 'computing', share: 0 });
    this.next(JSON.parse(this.question) as Omit<AccuracyBody, 'models'>);
  }

  clear(): void {
    for (const model of [...this.all.keys()]) this.forget(model);
  }

  private forget(model: string): void {
    this.running.get(model)?.abort();
    this.running.delete(model);
    this.all.delete(model);
  }

  private next(rest: Omit<AccuracyBody, 'models'>): void {
    for (const [model, { state }] of this.all) {
      if (this.running.size >= CONCURRENCY) return;
      if (state === 'computing' && !this.running.has(model)) void this.run(rest, model);
    }
  }

  private async run(rest: Omit<AccuracyBody, 'models'>, model: string): Promise<void> {
    const abort = new AbortController();
    const { signal } = abort;
    this.running.set(model, abort);
    const show = (backtest: Backtest) => void (signal.aborted || this.all.set(model, backtest));
    try {
      const answer = await postAccuracy(
        (input, init) => fetch(input, { ...init, signal }),
        { ...rest, models: [model] },
        (share) => show({ state: 'computing', share }),
      );
      show({ state: 'done', answer });
    } catch (error) {
      show({ state: 'failed', reason: reasonOf(error) });
    }
    if (signal.aborted) return;
    this.running.delete(model);
    this.next(rest);
  }
}

type ModelBacktest = ToldAccuracy['models'][number];

/** The answer of a backtest that is done. */
export const answerOf = (backtest: Backtest | undefined): ModelBacktest | undefined =>
  backtest?.state === 'done' ? backtest.answer.models[0] : undefined;
