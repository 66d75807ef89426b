import { BAR_FIELDS, type BuiltBars } from './bars.js';
import type { BuildCourse } from './buildCourse.js';

const COLUMNS = [...BAR_FIELDS, 'firstRecord', 'endRecord'] as const;

/**
 * Bars are gathered in blocks of so many, which are put together at the end: columns that grow by being copied take memory
 * several times over, and that takes longer than all the rest where a bar holds a few records.
 */
const BLOCK_BARS = 4096;

/** Columns of so many bars, which fill together. Each by name: the engine finds them at once then. */
class Block {
  readonly time = blockColumn();
  readonly end = blockColumn();
  readonly open = blockColumn();
  readonly high = blockColumn();
  readonly low = blockColumn();
  readonly close = blockColumn();
  readonly volume = blockColumn();
  readonly value = blockColumn();
  readonly vwap = blockColumn();
  readonly trades = blockColumn();
  readonly firstRecord = blockColumn();
  readonly endRecord = blockColumn();
  /** In the order of their names. */
  readonly texts: Float64Array[];

  constructor(texts: number) {
    this.texts = Array.from({ length: texts }, blockColumn);
  }
}

function blockColumn() {
  return new Float64Array(BLOCK_BARS);
}

/** The bars that are made so far, as columns. */
export class BarColumns {
  private readonly full: Block[] = [];
  /** The block that fills. */
  block = new Block(0);
  /** Bars in it. */
  private count = 0;
  private textNames: string[] = [];

  constructor(private readonly course: BuildCourse) {}

  /** Text columns that each bar has from now on; none has come yet. */
  carry(textNames: string[]): void {
    this.textNames = textNames;
    this.block = new Block(textNames.length);
  }

  /** Makes room for a bar more, and gives its row in the block. */
  next(): number {
    if (this.count === BLOCK_BARS) {
      this.full.push(this.block);
      this.course.made(this.full.length * BLOCK_BARS);
      this.block = new Block(this.textNames.length);
      this.count = 0;
    }
    return this.count++;
  }

  /** How many bars there are. */
  get bars(): number {
    return this.full.length * BLOCK_BARS + this.count;
  }

  /** The row of a bar that is not counted yet, in the block: it is written over by the one that is. */
  draft(): number {
    const row = this.next();
    this.count--;
    return row;
  }

  /**
   * Bars from a row on.
   * @param drafted  whether the one that is not counted is among them
   */
  toBars(leftOut: number, first: number, drafted: boolean): BuiltBars {
    const end = this.bars + (drafted ? 1 : 0);
    const count = Math.max(0, end - first);
    const blocks = [...this.full, this.block];
    const firstBlock = Math.floor(first / BLOCK_BARS);
    const together = (columnOf: (block: Block) => Float64Array): Float64Array => {
      const whole = new Float64Array(count);
      for (let index = firstBlock; index < blocks.length; index++) {
        const from = index * BLOCK_BARS;
        const part = columnOf(blocks[index]).subarray(Math.max(0, first - from), Math.max(0, end - from));
        whole.set(part, Math.max(0, from - first));
      }
      return whole;
    };
    const columns = COLUMNS.map((name) => [name, together((block) => block[name])] as const);
    const texts = this.textNames.map((name, index) => [name, together((block) => block.texts[index])] as const);
    return {
      ...(Object.fromEntries(columns) as Record<(typeof COLUMNS)[number], Float64Array>),
      complete: new Uint8Array(count).fill(1),
      leftOut,
      ...(texts.length > 0 && { texts: Object.fromEntries(texts) }),
    };
  }
}
