/* What is kept of bars that are begun and not full yet, for `RunningStarts`: typed rings, since all records go through them. */

/** The greatest of the latest values. */
export class Extremes {
  /** Values that are greater than all after them, and their records: a ring, of which [first, end) is used. */
  private values = new Float64Array(16);
  private records = new Float64Array(16);
  private first = 0;
  private end = 0;

  add(value: number, at: number): void {
    if (value !== value) return;
    const mask = this.values.length - 1;
    while (this.end > this.first && this.values[(this.end - 1) & mask] <= value) this.end--;
    if (this.end - this.first > mask) this.grow();
    const place = this.end++ & (this.values.length - 1);
    this.values[place] = value;
    this.records[place] = at;
  }

  /** NaN where there is none. */
  get value(): number {
    return this.end > this.first ? this.values[this.first & (this.values.length - 1)] : NaN;
  }

  /** Forgets what came before record `at`. */
  leave(at: number): void {
    const mask = this.values.length - 1;
    while (this.first < this.end && this.records[this.first & mask] < at) this.first++;
  }

  private grow(): void {
    this.values = twice(this.values, this.first);
    this.records = twice(this.records, this.first);
  }
}

/** The records that bars begin with which are not full yet, and the starts that each has come from. */
export class WaitingStarts {
  /** The records in order, the total before each, and the start that stands for all that met in it: a ring as above. */
  private records = new Float64Array(16);
  private totals = new Float64Array(16);
  private groups = new Float64Array(16);
  private head = 0;
  private end = 0;
  /** Which start each has met, and where the bars of those that none has met begin now. */
  private readonly met: number[] = [];
  private readonly at: number[] = [];
  /** The first record that a bar begins with, and the last; Infinity where there is none. */
  first = Infinity;
  last = Infinity;

  get seeds(): number {
    return this.met.length;
  }

  get totalBeforeFirst(): number {
    return this.totals[this.head & (this.totals.length - 1)];
  }
  set totalBeforeLast(total: number) {
    this.totals[(this.end - 1) & (this.totals.length - 1)] = total;
  }

  /** Takes what comes before the first bar out of all totals. @returns how much that was */
  countFromFirst(): number {
    if (this.head === this.end) return 0;
    const mask = this.totals.length - 1;
    const before = this.totals[this.head & mask];
    for (let place = this.head; place < this.end; place++) this.totals[place & mask] -= before;
    return before;
  }

  /** The next start, which is the record of that number. */
  seed(record: number): void {
    if (record !== this.seeds) return;
    this.met.push(record);
    this.at.push(record);
    this.put(record, record);
  }

  /** The first bar is full, and another begins with a record. */
  moveFirst(record: number): void {
    const mask = this.records.length - 1;
    const group = this.groups[this.head++ & mask];
    this.first = this.head < this.end ? this.records[this.head & mask] : Infinity;
    this.put(record, group);
  }

  /** Where the bars of every start begin now. */
  reached(): Float64Array {
    return Float64Array.from(this.met, (_, start) => this.at[this.rootOf(start)]);
  }

  private put(record: number, group: number): void {
    if (this.last === record && this.end > this.head) {
      this.met[group] = this.groups[(this.end - 1) & (this.groups.length - 1)];
      return;
    }
    if (this.end - this.head === this.records.length) this.grow();
    const place = this.end++ & (this.records.length - 1);
    this.records[place] = record;
    this.groups[place] = group;
    this.at[group] = record;
    this.last = record;
    if (this.first === Infinity) this.first = record;
  }

  private grow(): void {
    this.records = twice(this.records, this.head);
    this.totals = twice(this.totals, this.head);
    this.groups = twice(this.groups, this.head);
  }

  private rootOf(start: number): number {
    let root = start;
    while (this.met[root] !== root) root = this.met[root] = this.met[this.met[root]];
    return root;
  }
}

/** A ring of twice the length. Its values are counted from `first` on. */
function twice(ring: Float64Array, first: number): Float64Array<ArrayBuffer> {
  const larger = new Float64Array(2 * ring.length);
  for (let place = first; place < first + ring.length; place++)
    larger[place & (larger.length - 1)] = ring[place & (ring.length - 1)];
  return larger;
}
