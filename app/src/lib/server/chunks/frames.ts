/*
 * Whole numbers in frames of 512: for each frame its least number or 0, and each number's distance from that in so many
 * whole bytes as the frame's greatest distance needs: none, 1, 2, 4, or 8 for a double. Numbers of a frame lie side by
 * side as a typed array, so that the engine's own conversion reads them; that is several times as quick as any loop over
 * bytes, and costs half a byte a number beside packing bits.
 *
 * The bytes: the least numbers as doubles; the frames of 8 bytes a number, then those of 4, of 2 and of 1, which keeps all
 * of them aligned; a byte a frame for its width.
 */
const FRAME_ROWS = 512;
const WIDTHS = [8, 4, 2, 1] as const;

/** Frames of a column of `rows`. */
const framesOf = (rows: number): number => Math.ceil(rows / FRAME_ROWS);

/** Where frame `index` of a column of `rows` begins and ends. */
export const frameAt = (index: number, rows: number): [number, number] => [
  index * FRAME_ROWS,
  Math.min((index + 1) * FRAME_ROWS, rows),
];

/** Whole numbers that are to be packed, and what lies in each of their frames. */
export class Frames {
  readonly numbers: Float64Array;
  private readonly leasts: Float64Array;
  private readonly greatests: Float64Array;

  /** @param room  where the numbers go: memory that is taken anew for every column is cleared first, which takes long */
  constructor(
    readonly rows: number,
    room: Float64Array,
  ) {
    this.numbers = room.subarray(0, rows);
    this.leasts = new Float64Array(framesOf(rows));
    this.greatests = new Float64Array(framesOf(rows));
  }

  get count(): number {
    return this.leasts.length;
  }

  /** Notes the least and the greatest number of a frame. */
  note(index: number, least: number, greatest: number): void {
    this.leasts[index] = least;
    this.greatests[index] = greatest;
  }

  /** How many bytes they make. */
  get packedSize(): number {
    return sizeOf(this.widths(), this.rows);
  }

  pack(): Uint8Array<ArrayBuffer> {
    const { numbers, rows } = this;
    const widths = this.widths();
    const bases = this.leasts.map((least, index) => {
      // where counting from 0 takes no more, whoever reads them has nothing to add
      const fromZero = widths[index] === 8 || (least > 0 && widthOf(this.greatests[index]) === widths[index]);
      return fromZero ? 0 : least;
    });
    const bytes = new Uint8Array(sizeOf(widths, rows));
    new Float64Array(bytes.buffer, 0, bases.length).set(bases);
    let at = 8 * bases.length;
    for (const width of WIDTHS)
      widths.forEach((one, index) => {
        if (one !== width) return;
        const [from, to] = frameAt(index, rows);
        putFrame(numbersAt(bytes.buffer, at, width, to - from), numbers, from, bases[index]);
        at += width * (to - from);
      });
    bytes.set(widths, at);
    return bytes;
  }

  private widths(): Uint8Array {
    return Uint8Array.from(this.leasts, (least, index) => widthOf(this.greatests[index] - least));
  }
}

function sizeOf(widths: Uint8Array, rows: number): number {
  return widths.reduce((size, width, index) => {
    const [from, to] = frameAt(index, rows);
    return size + 9 + width * (to - from);
  }, 0);
}

let alignedRoom = new ArrayBuffer(0);

/** The bytes where typed arrays may look at them; one copy at a time, since memory that is taken anew is cleared first. */
function alignedCopy(bytes: Uint8Array): ArrayBuffer {
  if (alignedRoom.byteLength < bytes.length) alignedRoom = new ArrayBuffer(bytes.length);
  new Uint8Array(alignedRoom).set(bytes);
  return alignedRoom;
}

/**
 * Reads frames back, one after the other, so that each is worked on while it is near at hand. One reader at a time: the
 * next one takes the memory of the one before.
 */
export class FrameReader {
  readonly count: number;
  private readonly buffer: ArrayBuffer;
  private readonly leasts: Float64Array;
  private readonly widths: Uint8Array;
  /** Where the next frame of each width is. */
  private readonly places = new Float64Array(9);

  /** @throws {RangeError} where the bytes are not as many as the frames take */
  constructor(
    bytes: Uint8Array,
    private readonly rows: number,
  ) {
    this.count = framesOf(rows);
    this.buffer = alignedCopy(bytes);
    this.leasts = new Float64Array(this.buffer, 0, this.count);
    this.widths = bytes.subarray(bytes.length - this.count);
    const bytesOf = new Float64Array(9);
    this.widths.forEach((width, index) => {
      const [from, to] = frameAt(index, rows);
      bytesOf[width] += width * (to - from);
    });
    let at = 8 * this.count;
    for (const width of WIDTHS) {
      this.places[width] = at;
      at += bytesOf[width];
    }
    if (at + this.count !== bytes.length) throw new RangeError(`${bytes.length} bytes are not those of ${rows} rows`);
  }

  /** Lays the numbers of the next frame, number `index`, into their rows of a column; gives what is to be added to each. */
  lay(index: number, column: Float64Array): number {
    const [from, to] = frameAt(index, this.rows);
    const width = this.widths[index];
    if (width === 0) column.fill(0, from, to);
    else {
      column.set(numbersAt(this.buffer, this.places[width], width, to - from), from);
      this.places[width] += width * (to - from);
    }
    return this.leasts[index];
  }
}

type Numbers = Uint8Array | Uint16Array | Uint32Array | Float64Array;

function putFrame(frame: Numbers, wholes: Float64Array, from: number, least: number): void {
  const rows = frame.length;
  if (least === 0) return frame.set(wholes.subarray(from, from + rows));
  for (let row = 0; row < rows; row++) frame[row] = wholes[from + row] - least;
}

function numbersAt(buffer: ArrayBuffer, at: number, width: number, count: number): Numbers {
  if (width === 1) return new Uint8Array(buffer, at, count);
  if (width === 2) return new Uint16Array(buffer, at, count);
  return width === 4 ? new Uint32Array(buffer, at, count) : new Float64Array(buffer, at, count);
}

function widthOf(distance: number): number {
  if (distance === 0) return 0;
  if (distance < 2 ** 8) return 1;
  if (distance < 2 ** 16) return 2;
  return distance < 2 ** 32 ? 4 : 8;
}
