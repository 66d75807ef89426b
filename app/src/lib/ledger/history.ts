/** Steps that can be taken back at most. */
const MOST_STEPS = 200;
/** Changes of one kind that follow each other faster are one step: a drag is undone as a whole. */
const ONE_STEP_MS = 700;

/** Where the steps are kept between visits; a browser's own storage, or nothing. */
export type StepStorage = Pick<Storage, 'getItem' | 'setItem' | 'removeItem'>;

/** States of something that was changed, as texts, for undo and redo. They outlast a reload. */
export class History {
  private done: string[] = [];
  private undone: string[] = [];
  private group = '';
  private groupAt = -Infinity;

  /** @param current  the state now: steps that were kept beside another one are not of use any more */
  constructor(
    private readonly storage: StepStorage | undefined,
    private key: string,
    current: string,
  ) {
    const kept = storage?.getItem(key);
    if (!kept) return;
    try {
      const { done, undone, state } = JSON.parse(kept) as { done: string[]; undone: string[]; state: string };
      if (state === current) [this.done, this.undone] = [done, undone];
    } catch {
      return; // written by something else: begin anew
    }
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
    try {
      this.storage?.setItem(this.key, JSON.stringify({ done: this.done, undone: this.undone, state }));
    } catch {
      this.done.splice(0, this.done.length >> 1); // the browser's storage is full: older steps go
    }
  }
}
