import { GrowingColumn } from '@jaunty-ledger/core';
import type { RecordColumns } from '@jaunty-ledger/files/records/recordColumns';
import { CHUNK_ROWS } from '../chunks/tapeChunk';

/** What came of a merge. */
export interface Merged {
  rows: number;
  /** Records that were put in, and those of them with a flag. */
  added: number;
  flagged: number;
  /** Records that were there already. */
  doubled: number;
}

/**
 * Two runs of records in order of time as one, each record that both have once. Of one instant the old ones come first.
 * @param names  columns of the records
 * @param write  takes blocks of a chunk's size in order; the last may be shorter
 */
export async function mergeRecords(
  old: AsyncIterable<RecordColumns>,
  further: AsyncIterable<RecordColumns>,
  names: readonly string[],
  write: (columns: RecordColumns) => Promise<void>,
): Promise<Merged> {
  const out = new BlockWriter(names, write);
  const [a, b] = [new Cursor(old), new Cursor(further)];
  const valueNames = names.filter((name) => name !== 'time' && name !== 'line' && name !== 'flags');
  const keyOf = (block: RecordColumns, row: number) => valueNames.map((name) => block[name][row]).join();
  const merged: Merged = { rows: 0, added: 0, flagged: 0, doubled: 0 };
  const add = ({ block, from, to }: BlockRange) => {
    merged.added += to - from;
    for (let row = from; row < to; row++) if (block.flags[row] !== 0) merged.flagged++;
    out.append(block, from, to);
  };
  for (;;) {
    const [hasOld, hasFurther] = [await a.ready(), await b.ready()];
    if (!hasOld && !hasFurther) break;
    const [oldTime, time] = [hasOld ? a.time : Infinity, hasFurther ? b.time : Infinity];
    if (oldTime < time) {
      const { block, from, to } = a.takeBefore(time);
      out.append(block, from, to);
    } else if (time < oldTime) add(b.takeBefore(oldTime));
    else {
      const known = new Map<string, number>();
      while ((await a.ready()) && a.time === time) {
        const { block, from, to } = a.takeRow();
        const key = keyOf(block, from);
        known.set(key, (known.get(key) ?? 0) + 1);
        out.append(block, from, to);
      }
      while ((await b.ready()) && b.time === time) {
        const one = b.takeRow();
        const key = keyOf(one.block, one.from);
        const count = known.get(key) ?? 0;
        if (count === 0) add(one);
        else {
          known.set(key, count - 1);
          merged.doubled++;
        }
      }
    }
    await out.writeFull();
  }
  merged.rows = await out.finish();
  return merged;
}

/** Rows [from, to) of a block. */
interface BlockRange {
  block: RecordColumns;
  from: number;
  to: number;
}

/** A place in a run of blocks. */
class Cursor {
  private readonly blocks: AsyncIterator<RecordColumns>;
  private block: RecordColumns | undefined;
  private row = 0;

  constructor(blocks: AsyncIterable<RecordColumns>) {
    this.blocks = blocks[Symbol.asyncIterator]();
  }

  /** Whether there is a further record. */
  async ready(): Promise<boolean> {
    while (!this.block || this.row === this.block.time.length) {
      const next = await this.blocks.next();
      if (next.done) return false;
      this.block = next.value;
      this.row = 0;
    }
    return true;
  }

  get time(): number {
    return this.block!.time[this.row];
  }

  /** Takes the records of this block before an instant. */
  takeBefore(instant: number): BlockRange {
    const { row: from } = this;
    const block = this.block!;
    let to = from;
    while (to < block.time.length && block.time[to] < instant) to++;
    this.row = to;
    return { block, from, to };
  }

  takeRow(): BlockRange {
    const from = this.row++;
    return { block: this.block!, from, to: from + 1 };
  }
}

/** Gathers stretches of records to blocks of a chunk's size. */
class BlockWriter {
  private columns: { name: string; values: GrowingColumn }[] = [];
  private rows = 0;

  constructor(
    private readonly names: readonly string[],
    private readonly write: (columns: RecordColumns) => Promise<void>,
  ) {
    this.begin();
  }

  append(block: RecordColumns, from: number, to: number): void {
    for (const { name, values } of this.columns) values.append(block[name].subarray(from, to));
  }

  async writeFull(): Promise<void> {
    if (this.columns[0].values.length >= CHUNK_ROWS) await this.writeAll();
  }

  /** Writes what is left; gives how many rows there were in all. */
  async finish(): Promise<number> {
    await this.writeAll();
    return this.rows;
  }

  private begin(): void {
    this.columns = this.names.map((name) => ({ name, values: new GrowingColumn(CHUNK_ROWS) }));
  }

  /** A stretch may be longer than a chunk; what it leaves over makes a chunk of its own. */
  private async writeAll(): Promise<void> {
    const whole = this.columns.map(({ name, values }) => [name, values.toArray()] as const);
    this.begin();
    const [[, time]] = whole;
    for (let from = 0; from < time.length; from += CHUNK_ROWS) {
      const part = whole.map(([name, column]) => [name, column.slice(from, from + CHUNK_ROWS)] as const);
      await this.write(Object.fromEntries(part) as RecordColumns);
    }
    this.rows += time.length;
  }
}
