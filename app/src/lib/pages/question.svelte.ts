import type { z } from 'zod';
import { askLatest } from '$lib/api/ask';
import { reasonOf } from '$lib/api/problems';
import { call } from '$lib/works/call';
import type { Work } from '$lib/works/work';

interface Options<Answer> {
  /** @param isSame  whether the question is the one that was answered before, asked again */
  onAnswer?: (answer: Answer, isSame: boolean) => void;
  /** Read with the question: it is asked again where this has changed. */
  again?: () => unknown;
}

/**
 * A question that a page asks as it changes. Equal questions are one, the latest alone is answered, and it can be stopped.
 * It asks in an effect, so it is made while a component is.
 */
export class Question<Body extends z.ZodType, Answer extends z.ZodType> {
  /** The last answer; it stays while the next one is on its way, and goes where that is refused. */
  answer = $state.raw<z.infer<Answer>>();
  /** Why there is none; empty where there is. */
  problem = $state('');
  isWorking = $state(false);
  /** The share that is done, 0 to 1, where it takes long. */
  share = $state(0);
  /** Whether it was stopped by hand. */
  isStopped = $state(false);
  private round = $state(0);
  /** What the answer is of. */
  private answered = $state.raw<string>();
  private readonly asked = $derived.by(() => {
    const body = this.body();
    return body && JSON.stringify(body);
  });
  private giveUp: () => void = () => undefined;

  /** @param body  what is asked; nothing where there is nothing to ask */
  constructor(
    work: Work<Body, Answer>,
    private readonly body: () => z.input<Body> | undefined,
    { onAnswer, again }: Options<z.infer<Answer>> = {},
  ) {
    $effect(() => {
      void [again?.(), this.round];
      const asked = this.asked;
      [this.isStopped, this.share] = [false, 0];
      this.isWorking = asked !== undefined;
      if (asked === undefined) return this.settle(undefined, undefined);
      return (this.giveUp = askLatest(
        (fetcher) =>
          call(work, JSON.parse(asked) as z.input<Body>, { fetcher, onProgress: (share) => (this.share = share) }),
        (answer) => {
          const isSame = asked === this.answered;
          this.settle(answer, asked);
          onAnswer?.(answer, isSame);
        },
        (error) => this.settle(undefined, undefined, reasonOf(error)),
      ));
    });
  }

  /** The answer where it is of what is asked now, not of what was asked before. */
  get current(): z.infer<Answer> | undefined {
    return this.answered === this.asked ? this.answer : undefined;
  }

  stop(): void {
    this.giveUp();
    [this.isWorking, this.isStopped] = [false, true];
  }

  /** Asks again what was stopped. */
  goOn(): void {
    this.round++;
  }

  private settle(answer: z.infer<Answer> | undefined, asked: string | undefined, problem = ''): void {
    [this.answer, this.answered, this.problem, this.isWorking] = [answer, asked, problem, false];
  }
}
