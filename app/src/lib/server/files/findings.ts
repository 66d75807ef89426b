import { checkRule, type CheckFinding, type CheckId, type Treatment, type Treatments } from '$lib/api/checks';

/** Examples of each check that are told with their lines. */
const TOLD_EXAMPLES = 20;
/** Left-out lines that are kept as they stood, and no more bytes of them than this. */
const KEPT_LINES = 10_000;
const KEPT_BYTES = 1 << 20;

/** A line that was left out, as it stood, and why. */
export interface LeftOutLine {
  line: number;
  reason: string;
  text: string;
}

/** What the checks of one import have found so far. */
export class Findings {
  readonly leftOut: LeftOutLine[] = [];
  leftOutCount = 0;
  private keptBytes = 0;
  private readonly counts = new Map<CheckId, number>();
  private readonly examples = new Map<CheckId, { line: number; says: string }[]>();

  constructor(private readonly treatments: Treatments) {}

  treatmentOf(id: CheckId): Treatment | 'reported' {
    return this.treatments[id] ?? checkRule(id).usual;
  }

  /** Counts one; what it says is asked for only while examples are still kept. */
  note(id: CheckId, line: number, says: () => string): void {
    this.counts.set(id, (this.counts.get(id) ?? 0) + 1);
    let examples = this.examples.get(id);
    if (!examples) this.examples.set(id, (examples = []));
    if (examples.length < TOLD_EXAMPLES) examples.push({ line, says: says() });
  }

  leaveOut(line: number, reason: string, text: string): void {
    this.leftOutCount++;
    if (this.leftOut.length >= KEPT_LINES || this.keptBytes > KEPT_BYTES) return;
    this.keptBytes += text.length;
    this.leftOut.push({ line, reason, text });
  }

  countOf(id: CheckId): number {
    return this.counts.get(id) ?? 0;
  }

  examplesOf(id: CheckId): { line: number; says: string }[] {
    return this.examples.get(id) ?? [];
  }

  /** Forgets what some checks have found: they run once more over the sorted records. */
  forget(ids: readonly CheckId[]): void {
    for (const id of ids) {
      this.counts.delete(id);
      this.examples.delete(id);
    }
  }

  list(): CheckFinding[] {
    return [...this.counts].map(([id, count]) => ({
      id,
      count,
      treatment: this.treatmentOf(id),
      examples: this.examplesOf(id),
    }));
  }
}
