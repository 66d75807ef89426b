import { z } from 'zod';
import { keepText, parsedJson, type KeptStorage } from '$lib/api/browserStorage';

/** Steps that can be taken back at most. */
const MOST_STEPS = 200;
/** Changes of one kind that follow each other faster are one step: a drag is undone as a whole. */
const ONE_STEP_MS = 700;

/** What is kept between visits. */
const Steps = z.object({ done: z.array(z.string()), undone: z.array(z.string()), state: z.string() });

/** States of something that was changed, as texts, for undo and redo. They outlast a reload. */
export class History {
  private done: string[] = [];
  private undone: string[] = [];
  private group = '';
  private groupAt = -Infinity;

  /** @param current  the state now: steps that were kept beside another one are not of use any more */
  constructor(
    private readonly storage: KeptStorage | undefined,
    private key: string,
    current: string,
  ) {
    const kept = storage?.getItem(key);
    if (!kept) return;
    // what something else has written is begun anew
    const { data } = Steps.safeParse(parsedJson(kept));
    if (data?.state === current) [this.done, this.undone] = [data.done, data.undone];
  }

  /** Keeps the steps under another key: what they are of has got a name of its own. */
  moveTo(key: string, current: string): void {
    const from = this.key;
    this.key = key;
    this.keep(current);
    this.storage?.removeItem(from);
  }

  get canUndo(): boolean {
    return this.done.length > 0;
  }

  get canRedo(): boolean {
    return this.undone.length > 0;
  }

  /**
   * Takes in a change.
   * @param group  of changes that are one step while they follow each other quickly
   */
  changed(before: string, after: string, group = '', now = Date.now()): void {
    const goesOn = group !== '' && group === this.group && now - this.groupAt < ONE_STEP_MS;
    this.group = group;
    this.groupAt = now;
    if (!goesOn) {
      this.done.push(before);
      this.done.splice(0, this.done.length - MOST_STEPS);
    }
    this.undone = [];
    this.keep(after);
  }

  undo(current: string): string | undefined {
    return this.move(this.done, this.undone, current);
  }

  redo(current: string): string | undefined {
    return this.move(this.undone, this.done, current);
  }

  private move(from: string[], to: string[], current: string): string | undefined {
    const state = from.pop();
    if (state === undefined) return undefined;
    to.push(current);
    this.group = '';
    this.keep(state);
    return state;
  }

  private keep(state: string): void {
    const steps: z.infer<typeof Steps> = { done: this.done, undone: this.undone, state };
    // where there is no room, older steps go
    if (!keepText(this.storage, this.key, JSON.stringify(steps))) this.done.splice(0, this.done.length >> 1);
  }
}
