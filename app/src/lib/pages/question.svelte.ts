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
  private giveUp: () => void = () => undefined;

  /** @param body  what is asked; nothing where there is nothing to ask */
  constructor(
    work: Work<Body, Answer>,
    body: () => z.input<Body> | undefined,
    { onAnswer, again }: Options<z.infer<Answer>> = {},
  ) {
    const text = $derived.by(() => {
      const asked = body();
      return asked && JSON.stringify(asked);
    });
    let answered: string | undefined;
    $effect(() => {
      void [again?.(), this.round];
      const asked = text;
      [this.isStopped, this.share] = [false, 0];
      this.isWorking = asked !== undefined;
      if (asked === undefined) return this.settle(undefined);
      return (this.giveUp = askLatest(
        (fetcher) =>
          call(work, JSON.parse(asked) as z.input<Body>, { fetcher, onProgress: (share) => (this.share = share) }),
        (answer) => {
          this.settle(answer);
          onAnswer?.(answer, asked === answered);
          answered = asked;
        },
        (error) => this.settle(undefined, reasonOf(error)),
      ));
    });
  }

  stop(): void {
    this.giveUp();
    [this.isWorking, this.isStopped] = [false, true];
  }

  /** Asks again what was stopped. */
  goOn(): void {
    this.round++;
  }

  private settle(answer: z.infer<Answer> | undefined, problem = ''): void {
    [this.answer, this.problem, this.isWorking] = [answer, problem, false];
  }
}
