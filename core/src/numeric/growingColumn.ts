/** A column of doubles whose length is not known beforehand: it doubles its room as it fills. */
export class GrowingColumn {
  private values: Float64Array<ArrayBuffer>;
  length = 0;

  constructor(room = 1024) {
    this.values = new Float64Array(room);
  }

  push(value: number): void {
    if (this.length === this.values.length) this.makeRoom(this.length + 1);
    this.values[this.length++] = value;
  }

  append(values: Float64Array): void {
    this.makeRoom(this.length + values.length);
    this.values.set(values, this.length);
    this.length += values.length;
  }

  /** The values so far, in an array of their own. */
  toArray(): Float64Array<ArrayBuffer> {
    return this.values.slice(0, this.length);
  }

  private makeRoom(rows: number): void {
    if (rows <= this.values.length) return;
    const wider = new Float64Array(Math.max(rows, 2 * this.values.length));
    wider.set(this.values.subarray(0, this.length));
    this.values = wider;
  }
}
