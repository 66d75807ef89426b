import {
  ArgumentError,
  lowCorrelations,
  pairCorrelation,
  pairSpread,
  partedStretches,
  toldStretches,
  type PairCorrelation,
  type PairSpread,
  type ToldStretch,
} from '@jaunty-ledger/core';
import { sentence } from '$lib/api/sentence';
import { betaOf, endsOf, type Compared } from './compareAddress';

/** Two columns on common rows. */
interface PairColumns {
  a: Float64Array;
  b: Float64Array;
}

/** The pair that is looked at, in steps: what does not go by a number that is turned is not worked out again. */
export class PairView {
  /**
   * @param columns   the pair, where there is one; the same arrays while they are of the same answer
   * @param compared  the page
   */
  constructor(
    private readonly columns: () => PairColumns | undefined,
    private readonly compared: () => Compared,
  ) {}

  private readonly a = $derived.by(() => this.columns()?.a);
  private readonly b = $derived.by(() => this.columns()?.b);
  private readonly of = $derived.by(() => this.compared().of);
  private readonly by = $derived.by(() => this.compared().by);
  private readonly beta = $derived.by(() => this.compared().beta);
  private readonly most = $derived.by(() => Math.max(2, Math.floor((this.a?.length ?? 0) / 2)));
  /** Rows of the windows: those that are asked for, or half of what there is. */
  readonly window = $derived.by(() => Math.min(this.most, this.compared().window));
  readonly behind = $derived.by(() => Math.min(this.most, this.compared().behind));
  readonly isLow = $derived.by(() => this.compared().partedBy === 'correlation');
  readonly begin = $derived.by(() => endsOf(this.compared()).begin);
  readonly end = $derived.by(() => endsOf(this.compared()).end);

  readonly correlation: PairCorrelation | undefined = $derived.by(() =>
    this.a && this.b ? pairCorrelation(this.a, this.b, this.of, this.window) : undefined,
  );
  readonly spread: PairSpread | undefined = $derived.by(() =>
    this.a && this.b ? pairSpread(this.a, this.b, this.by, betaOf(this.beta)) : undefined,
  );
  private readonly deviations = $derived.by(() =>
    this.spread ? partedStretches(this.spread.values, { rows: this.behind }) : undefined,
  );
  private readonly found = $derived.by((): { stretches: ToldStretch[]; problem: string } => {
    const { a, b, begin, end, isLow, correlation, spread } = this;
    if (!a || !b || !correlation || !spread) return { stretches: [], problem: '' };
    const rows = isLow ? this.window : this.behind;
    const signal = isLow ? correlation.values : spread.values;
    try {
      const parted = isLow
        ? lowCorrelations(signal, { rows, begin, end })
        : partedStretches(signal, { rows, begin, end }).stretches;
      return { stretches: toldStretches(parted, a, b, signal, { rows, isLow }), problem: '' };
    } catch (error) {
      if (!(error instanceof ArgumentError)) throw error;
      return { stretches: [], problem: sentence(error.message) };
    }
  });

  /** Whether the pair has no spread: one of its values, at least, is at or below 0 on every window. */
  get isWithoutSpread(): boolean {
    return this.z.length > 0 && this.z.every((value) => Number.isNaN(value));
  }

  /** Whether there are two columns, of rows enough. */
  get isThere(): boolean {
    return (this.a?.length ?? 0) > 2 && this.b !== undefined;
  }
  /** The spread in deviations. */
  get z(): Float64Array {
    return this.deviations?.z ?? new Float64Array(0);
  }
  get stretches(): readonly ToldStretch[] {
    return this.found.stretches;
  }
  /** Why there are no stretches: where they begin and end does not go together. */
  get problem(): string {
    return this.found.problem;
  }
}
