import { checkRule, type CheckFinding, type CheckId, type Treatment, type Treatments } from '$lib/api/checks';

/** Examples of each check that are told with their lines. */
const TOLD_EXAMPLES = 20;
/** Left-out lines that are kept as they stood, and no more bytes of them than this. */
const KEPT_LINES = 100_000;
const KEPT_BYTES = 16 << 20;

/** A line that was left out, as it stood, and why. */
export interface LeftOutLine {
  line: number;
  reason: string;
  text: string;
}

/** What some checks have found so far. */
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

  /** @param text  the line as it stood; whoever knows only its number looks it up later */
  leaveOut(line: number, reason: string, text = ''): void {
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

  /** None yet, under the same treatments. */
  anew(): Findings {
    return new Findings(this.treatments);
  }

  /** These and those: what was found in a file, and in the records of one of its tapes. */
  with(others: Findings): Findings {
    const both = this.anew();
    for (const part of [this, others]) {
      for (const [id, count] of part.counts) {
        both.counts.set(id, both.countOf(id) + count);
        both.examples.set(id, [...both.examplesOf(id), ...part.examplesOf(id)].slice(0, TOLD_EXAMPLES));
      }
      for (const { line, reason, text } of part.leftOut) both.leaveOut(line, reason, text);
      both.leftOutCount += part.leftOutCount - part.leftOut.length;
    }
    return both;
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
