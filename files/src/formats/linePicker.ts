import type { LeftOutLine } from '../checks/findings.js';
import type { LineFields, LineTaker } from '../records/recordReader.js';

/** Picks lines out of a file that is read again, as they stand there. */
export class LinePicker implements LineTaker {
  readonly plainColumns = 0;
  private readonly texts = new Map<number, string>();

  constructor(private readonly wanted: ReadonlySet<number>) {}

  readFields({ line, text }: LineFields): void {
    if (this.wanted.has(line)) this.texts.set(line, text());
  }

  addPlain(): never {
    throw new Error('lines are picked by their fields');
  }

  /** The left-out lines with the texts that they had not yet. */
  completed(lines: readonly LeftOutLine[]): LeftOutLine[] {
    return lines.map((line) => ({ ...line, text: line.text || (this.texts.get(line.line) ?? '') }));
  }
}
