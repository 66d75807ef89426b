import { refuse } from '$lib/api/problems';

/** The work is not wanted any more: whoever asked for it has gone. */
export class StoppedError extends Error {
  override readonly name = 'StoppedError';
}

/** Work that was taken for light has turned out not to be: it begins anew where heavy work is done. */
export class NotLightError extends Error {
  override readonly name = 'NotLightError';
}

/** Two marks as 32-bit integers, of which the first says that the work is to stop; then the share that is done. */
const BYTES = 16;

/** What the thread that asks and the one that works share of a task, in memory that both see. */
export class SharedCourse {
  readonly memory: SharedArrayBuffer;
  private readonly marks: Int32Array;
  private readonly shares: Float64Array;

  constructor(memory = new SharedArrayBuffer(BYTES)) {
    this.memory = memory;
    this.marks = new Int32Array(memory, 0, 2);
    this.shares = new Float64Array(memory, 8, 1);
  }

  stop(): void {
    Atomics.store(this.marks, 0, 1);
  }

  get isStopped(): boolean {
    return Atomics.load(this.marks, 0) === 1;
  }

  /** The share that is done, 0 to 1. */
  get share(): number {
    return this.shares[0];
  }
  set share(share: number) {
    this.shares[0] = share;
  }
}

/** How a piece of work goes on: it calls often, and is stopped by what the call throws. */
export class Course {
  private readonly startedAt = performance.now();

  constructor(
    private readonly shared: SharedCourse,
    private readonly budget: { milliseconds: number; isLight: boolean },
  ) {}

  /**
   * @param share  of the work that is done, 0 to 1, where it is known
   * @throws {StoppedError | NotLightError | Refusal} where the work is not wanted any more, or takes too long
   */
  readonly goOn = (share?: number): void => {
    const { shared, budget, startedAt } = this;
    if (share !== undefined) shared.share = share;
    if (shared.isStopped) throw new StoppedError();
    if (performance.now() - startedAt <= budget.milliseconds) return;
    if (budget.isLight) throw new NotLightError();
    throw refuse(
      'too-much-work',
      `This takes longer than ${Math.round(budget.milliseconds / 1000)} seconds. Ask for a shorter range, longer bars or fewer entries.`,
    );
  };
}
