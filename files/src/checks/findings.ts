import { checkRule, type CheckFinding, type CheckId, type Treatment, type Treatments } from './checks.js';

/** Examples of each check that are told with their lines. */
const TOLD_EXAMPLES = 20;
/** Left-out lines of a file that are kept as they stood, and no more bytes of them than this. */
const KEPT_LINES = 100_000;
const KEPT_BYTES = 16 << 20;

/** Room for left-out lines, which all have together that look at one file; or a share of it. */
export class LeftOutRoom {
  private lines: number;
  private bytes: number;

  constructor(sharers = 1) {
    this.lines = KEPT_LINES / sharers;
    this.bytes = KEPT_BYTES / sharers;
  }

  /** Whether there was room for a line. */
  take(text: string): boolean {
    if (this.lines < 1 || this.bytes <= 0) return false;
    this.lines--;
    this.bytes -= text.length;
    return true;
  }

  giveBack(lines: readonly LeftOutLine[]): void {
    this.lines += lines.length;
    for (const { text } of lines) this.bytes += text.length;
  }
}

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
  private readonly counts = new Map<CheckId, number>();
  private readonly examples = new Map<CheckId, { line: number; says: string }[]>();

  constructor(
    private readonly treatments: Treatments,
    private readonly room = new LeftOutRoom(),
  ) {}

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
    if (this.room.take(text)) this.leftOut.push({ line, reason, text });
  }

  countOf(id: CheckId): number {
    return this.counts.get(id) ?? 0;
  }

  examplesOf(id: CheckId): { line: number; says: string }[] {
    return this.examples.get(id) ?? [];
  }

  /** Forgets what a check has found: another one says it better. */
  forget(id: CheckId): void {
    this.counts.delete(id);
    this.examples.delete(id);
  }

  /** None yet, under the same treatments, for another part of the same file. */
  anew(): Findings {
    return new Findings(this.treatments, this.room);
  }

  /** None any more: what they have kept makes room. */
  begunAnew(): Findings {
    this.room.giveBack(this.leftOut);
    return this.anew();
  }

  /** These and those together: what was found in a file, and in the records of one of its tapes. */
  with(others: Findings, room = new LeftOutRoom()): Findings {
    const both = new Findings(this.treatments, room);
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
