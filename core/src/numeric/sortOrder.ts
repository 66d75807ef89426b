/** More values than this that want the same place are not put in order one by one. */
const CROWD = 32;

/** Rows of this length are put in order one by one before they are merged. */
const RUN = 8;

/**
 * Sorts indices by values. Each value is put where it would stand if all lay evenly between the least and the greatest, and
 * what is not right then is mended by insertion: a few steps a value, where a sort by comparing takes the logarithm of
 * their number. Values that lie too unevenly for that are merged after all.
 */
export class SortOrder {
  /** The indices, in rising order of their values; equal ones as they came. */
  order: Int32Array;
  private places: Int32Array;
  private readonly starts: Int32Array;

  constructor(most: number) {
    this.order = new Int32Array(most);
    this.places = new Int32Array(most);
    this.starts = new Int32Array(most + 1);
  }

  /** Sorts the first values, which are all numbers. */
  sort(values: Float64Array, length: number): void {
    if (this.deal(values, length)) return insert(values, 0, length, this.order);
    for (let i = 0; i < length; i++) this.order[i] = i;
    for (let from = 0; from < length; from += RUN) insert(values, from, Math.min(length, from + RUN), this.order);
    for (let run = RUN; run < length; run *= 2) {
      for (let from = 0; from < length; from += 2 * run)
        merge(values, this.order, from, Math.min(length, from + run), Math.min(length, from + 2 * run), this.places);
      [this.order, this.places] = [this.places, this.order];
    }
  }

  /** Puts each where it would stand by its distance from the least. @returns whether no place is crowded */
  private deal(values: Float64Array, length: number): boolean {
    const { order, places, starts } = this;
    let least = Infinity;
    let greatest = -Infinity;
    for (let i = 0; i < length; i++) {
      const value = values[i];
      if (value < least) least = value;
      if (value > greatest) greatest = value;
    }
    const scale = greatest > least ? (length - 1) / (greatest - least) : 0;
    if (greatest > least && !(scale > 0 && scale < Infinity)) return false;
    starts.fill(0, 0, length + 1);
    for (let i = 0; i < length; i++) {
      const place = ((values[i] - least) * scale) | 0;
      places[i] = place;
      starts[place + 1]++;
    }
    let most = 0;
    for (let place = 1; place <= length; place++) {
      if (starts[place] > most) most = starts[place];
      starts[place] += starts[place - 1];
    }
    // all the same: as they came, whatever their number
    if (most > CROWD && scale > 0) return false;
    for (let i = 0; i < length; i++) order[starts[places[i]]++] = i;
    return true;
  }
}

function insert(values: Float64Array, from: number, to: number, order: Int32Array): void {
  for (let i = from + 1; i < to; i++) {
    const index = order[i];
    const value = values[index];
    let place = i;
    for (; place > from && values[order[place - 1]] > value; place--) order[place] = order[place - 1];
    order[place] = index;
  }
}

/** Merges two runs. What is taken is chosen by a product, not by a branch: a branch would be guessed wrong every other time. */
function merge(
  values: Float64Array,
  order: Int32Array,
  from: number,
  middle: number,
  end: number,
  out: Int32Array,
): void {
  let left = from;
  let right = middle;
  let at = from;
  while (left < middle && right < end) {
    const a = order[left];
    const b = order[right];
    const isRight = Number(values[b] < values[a]);
    out[at++] = a + isRight * (b - a);
    right += isRight;
    left += 1 - isRight;
  }
  while (left < middle) out[at++] = order[left++];
  while (right < end) out[at++] = order[right++];
}
