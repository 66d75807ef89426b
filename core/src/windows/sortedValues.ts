/** Values of a block at most; a block that is full is split in two. */
const BLOCK = 1024;

/**
 * A multiset of numbers in order, by blocks: an insertion or a removal moves the values of one block, and the value at an
 * index is found by the blocks' lengths. Windows of up to a thousand values are one block, in which replacing one value by
 * a near one moves only those between the two.
 */
export class SortedValues {
  size = 0;
  private readonly blocks: Float64Array[] = [new Float64Array(BLOCK)];
  private readonly lengths: number[] = [0];

  insert(value: number): void {
    const { blocks, lengths } = this;
    let index = this.blockOf(value);
    if (lengths[index] === BLOCK) {
      this.split(index);
      if (value > blocks[index][lengths[index] - 1]) index++;
    }
    const block = blocks[index];
    const at = lowerBound(block, lengths[index], value);
    block.copyWithin(at + 1, at, lengths[index]++);
    block[at] = value;
    this.size++;
  }

  /** Removes one value that is among them. */
  remove(value: number): void {
    const { blocks, lengths } = this;
    const index = this.blockOf(value);
    const block = blocks[index];
    block.copyWithin(
      lowerBound(block, lengths[index], value),
      lowerBound(block, lengths[index], value) + 1,
      lengths[index],
    );
    this.size--;
    if (--lengths[index] === 0 && blocks.length > 1) {
      blocks.splice(index, 1);
      lengths.splice(index, 1);
    }
  }

  /** As `remove(old)` and `insert(value)`. */
  replace(old: number, value: number): void {
    if (this.blocks.length > 1) {
      this.remove(old);
      this.insert(value);
      return;
    }
    const [block] = this.blocks;
    const from = lowerBound(block, this.size, old);
    const to = lowerBound(block, this.size, value);
    // only the values between the two move
    if (to > from) {
      block.copyWithin(from, from + 1, to);
      block[to - 1] = value;
    } else {
      block.copyWithin(to + 1, to, from);
      block[to] = value;
    }
  }

  /** The value at an index from 0, in rising order. */
  at(index: number): number {
    let block = 0;
    while (index >= this.lengths[block]) index -= this.lengths[block++];
    return this.blocks[block][index];
  }

  /** How many are below a value. */
  below(value: number): number {
    const index = this.blockOf(value);
    let count = 0;
    for (let block = 0; block < index; block++) count += this.lengths[block];
    return count + lowerBound(this.blocks[index], this.lengths[index], value);
  }

  /** How many equal a value. */
  equal(value: number): number {
    let count = 0;
    for (let index = this.blockOf(value); index < this.blocks.length; index++) {
      const block = this.blocks[index];
      const from = lowerBound(block, this.lengths[index], value);
      let to = from;
      while (to < this.lengths[index] && block[to] === value) to++;
      count += to - from;
      if (to < this.lengths[index]) break;
    }
    return count;
  }

  /** The first block whose last value is not below a value; the last block if there is none. */
  private blockOf(value: number): number {
    const { blocks, lengths } = this;
    let low = 0;
    let high = blocks.length - 1;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (blocks[middle][lengths[middle] - 1] < value) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  private split(index: number): void {
    const half = BLOCK >> 1;
    const upper = new Float64Array(BLOCK);
    upper.set(this.blocks[index].subarray(half));
    this.blocks.splice(index + 1, 0, upper);
    this.lengths.splice(index, 1, half, BLOCK - half);
  }
}

/**
 * The first index whose value is not below `value`. The step is taken by a product, not by a branch: where the values come
 * at random a branch is guessed wrong every other time.
 */
function lowerBound(values: Float64Array, length: number, value: number): number {
  let low = 0;
  let left = length;
  while (left > 1) {
    const half = left >> 1;
    low += half * Number(values[low + half - 1] < value);
    left -= half;
  }
  return left === 1 && values[low] < value ? low + 1 : low;
}
