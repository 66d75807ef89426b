/** Columns that are written from some row on, again and again. Each has room to grow into. */
export class GrowingRows<Key> {
  private readonly rooms = new Map<Key, Float64Array>();

  /** Writes the rows of a column from `first` on, which are its last. @returns the whole column, in memory that is written on */
  put(key: Key, first: number, rows: Float64Array): Float64Array {
    const length = first + rows.length;
    let room = this.rooms.get(key);
    if (!room || room.length < length) {
      const wider = new Float64Array(Math.max(64, 2 * length));
      if (room) wider.set(room.subarray(0, first));
      this.rooms.set(key, (room = wider));
    }
    room.set(rows, first);
    return room.subarray(0, length);
  }

  /** Its rows before `end`; undefined where there is no such column. */
  upTo(key: Key, end: number): Float64Array | undefined {
    return this.rooms.get(key)?.subarray(0, end);
  }
}
