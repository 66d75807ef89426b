import { asFraction, decimalsOf, MOST_DECIMALS, nearestWhole, pieces } from '@jaunty-ledger/core';
import { frameAt, FrameReader, Frames } from './frames';
import { readVarints } from './varints';

/*
 * One column of a chunk as bytes. A byte says how:
 *   0  doubles as they are
 *   1  differences of whole numbers as variable-length integers; read, but no longer written
 *   2  whole numbers as variable-length integers; read, but no longer written
 *   3  values that go in equal steps, none included: the first, and the step
 *   4  the first whole number as a double, then the differences from one to the next, in frames
 *   5  whole numbers in frames, for columns whose neighbours do not resemble each other
 * Whole numbers are times of a unit, or decimals without their point. A column with missing values among decimal ones is
 * kept as doubles.
 */
const RAW = 0;
const VARINT_DIFFERENCES = 1;
const VARINTS = 2;
const STEPS = 3;
const DIFFERENCES = 4;
const VALUES = 5;

/** How whole numbers become values: times the unit (times), or divided by a power of ten (prices). */
type Scale = { times: number } | { decimals: number };

const HEADER_BYTES = 10; // kind, decimals or 255, unit as a double
/** Rows that tell whether differences are smaller than values. */
const SAMPLE_ROWS = 2048;

interface EncodedColumn {
  bytes: Uint8Array;
  /** Decimal places that write every value, where they were found out on the way. */
  decimals: number | undefined;
}

/** Bytes of a column; `decodeColumn` gives back the same doubles, bit for bit. */
export function encodeColumn(column: Float64Array): EncodedColumn {
  const step = stepOf(column);
  if (step !== undefined) {
    const bytes = withHeader(STEPS, { times: 1 }, new Uint8Array(Float64Array.of(column[0], step).buffer));
    return { bytes, decimals: undefined };
  }
  const whole = wholesOf(column);
  if (whole) {
    const { frames, scale, start } = whole;
    const packed =
      start === undefined
        ? withHeader(VALUES, scale, frames.pack())
        : withHeader(DIFFERENCES, scale, withFirst(start, frames.pack()));
    const decimals = 'decimals' in scale ? scale.decimals : 0;
    if (packed.length < column.byteLength) return { bytes: packed, decimals };
  }
  return { bytes: withHeader(RAW, { times: 1 }, new Uint8Array(column.slice().buffer)), decimals: undefined };
}

/**
 * The column of `rows` values that the bytes hold.
 * @param into  a column of so many rows that may be written over; one of its own if not given
 * @throws {RangeError} for bytes that hold none
 */
export function decodeColumn(
  bytes: Uint8Array,
  rows: number,
  into: Float64Array<ArrayBuffer> = new Float64Array(rows),
): Float64Array<ArrayBuffer> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const kind = bytes[0];
  if (kind === STEPS) {
    const [first, step] = [view.getFloat64(HEADER_BYTES, true), view.getFloat64(HEADER_BYTES + 8, true)];
    if (step === 0) return into.fill(first);
    for (let row = 0; row < rows; row++) into[row] = first + row * step;
    return into;
  }
  if (kind === RAW) return new Float64Array(bytes.slice(HEADER_BYTES, HEADER_BYTES + 8 * rows).buffer);
  const body = bytes.subarray(HEADER_BYTES);
  const { scale, isDecimal } = scaleIn(bytes, view);
  const start = view.getFloat64(HEADER_BYTES, true);
  switch (kind) {
    case VALUES:
      return framedValues(body, into, scale, isDecimal);
    case DIFFERENCES:
      return framedSums(body.subarray(8), into, start, scale, isDecimal);
    case VARINTS: {
      const wholes = readVarints(body, rows);
      putValues(wholes, 0, rows, 0, scale, isDecimal);
      return wholes;
    }
    case VARINT_DIFFERENCES: {
      const differences = readVarints(body, rows);
      sumUp(differences, 0, rows, 0, 0, scale, isDecimal);
      return differences;
    }
    default:
      throw new RangeError(`no way ${kind} to keep a column is known`);
  }
}

/** The step of a column of whole numbers above 0 that rise by equal ones, 0 for one value in every row; undefined for others. */
function stepOf(column: Float64Array): number | undefined {
  const bytes = Buffer.from(column.buffer, column.byteOffset, column.byteLength);
  // each value the one before, bit for bit: a zero below zero is another, a missing value is not
  if (bytes.subarray(8).equals(bytes.subarray(0, -8))) return 0;
  const [first, second] = column;
  const step = second - first;
  const rises = first > 0 && step > 0 && Number.isInteger(first) && Number.isInteger(step);
  if (!rises || !Number.isSafeInteger(first + step * column.length)) return undefined;
  for (const [from, to] of pieces(1, column.length)) if (!goesBy(column, from, to, step)) return undefined;
  return step;
}

function goesBy(column: Float64Array, from: number, to: number, step: number): boolean {
  let next = column[from - 1];
  for (let row = from; row < to; row++) {
    next += step;
    if (column[row] !== next) return false;
  }
  return true;
}

function withFirst(first: number, frames: Uint8Array): Uint8Array {
  const bytes = new Uint8Array(8 + frames.length);
  new DataView(bytes.buffer).setFloat64(0, first, true);
  bytes.set(frames, 8);
  return bytes;
}

function scaleIn(bytes: Uint8Array, view: DataView): { scale: number; isDecimal: boolean } {
  const isDecimal = bytes[1] !== 255;
  return { scale: isDecimal ? 10 ** bytes[1] : view.getFloat64(2, true), isDecimal };
}

function framedValues(bytes: Uint8Array, into: Float64Array<ArrayBuffer>, scale: number, isDecimal: boolean) {
  const frames = new FrameReader(bytes, into.length);
  for (let index = 0; index < frames.count; index++) {
    const least = frames.lay(index, into);
    const [from, to] = frameAt(index, into.length);
    putValues(into, from, to, least, scale, isDecimal);
  }
  return into;
}

function framedSums(
  bytes: Uint8Array,
  into: Float64Array<ArrayBuffer>,
  start: number,
  scale: number,
  isDecimal: boolean,
) {
  const frames = new FrameReader(bytes, into.length);
  let sum = start;
  for (let index = 0; index < frames.count; index++) {
    const least = frames.lay(index, into);
    const [from, to] = frameAt(index, into.length);
    sum = sumUp(into, from, to, least, sum, scale, isDecimal);
  }
  return into;
}

/** Values of whole numbers, in place. Decimals come by a division: a product with 0.01 gives a neighbour of the double. */
function putValues(x: Float64Array, from: number, to: number, least: number, scale: number, isDecimal: boolean): void {
  if (scale === 1 && least === 0) return;
  if (scale === 1) for (let row = from; row < to; row++) x[row] += least;
  else if (isDecimal) for (let row = from; row < to; row++) x[row] = (x[row] + least) / scale;
  else for (let row = from; row < to; row++) x[row] = (x[row] + least) * scale;
}

/** Values of differences between whole numbers that lead on from a start, in place; gives where they lead to. */
function sumUp(
  x: Float64Array,
  from: number,
  to: number,
  least: number,
  start: number,
  scale: number,
  isDecimal: boolean,
): number {
  let sum = start;
  if (isDecimal)
    for (let row = from; row < to; row++) {
      sum += x[row] + least;
      x[row] = sum / scale;
    }
  else
    for (let row = from; row < to; row++) {
      sum += x[row] + least;
      x[row] = sum * scale;
    }
  return sum;
}

function withHeader(kind: number, scale: Scale, body: Uint8Array): Uint8Array {
  const bytes = new Uint8Array(HEADER_BYTES + body.length);
  bytes[0] = kind;
  bytes[1] = 'decimals' in scale ? scale.decimals : 255;
  new DataView(bytes.buffer).setFloat64(2, 'times' in scale ? scale.times : 1, true);
  bytes.set(body, HEADER_BYTES);
  return bytes;
}

const MOST_WHOLE = Number.MAX_SAFE_INTEGER / 4;

/** Whole numbers of one column at a time, on their way to its bytes. */
let room = new Float64Array(0);

/** A column as whole numbers; with a start they are the differences from one to the next. */
interface Wholes {
  frames: Frames;
  scale: Scale;
  start: number | undefined;
}

/** The column as whole numbers: times of seconds or milliseconds, or decimals; nothing for other columns. */
function wholesOf(column: Float64Array): Wholes | undefined {
  const sample = column.subarray(0, SAMPLE_ROWS);
  // whole numbers are decimals without a place, the quickest to find
  for (const scale of [{ times: 1_000_000 }, { times: 1000 }, { decimals: 0 }]) {
    const wholes = inSmallerFrames(column, sample, scale);
    if (wholes) return wholes;
  }
  for (
    let decimals = Math.max(1, decimalsOf(sample));
    decimals <= MOST_DECIMALS;
    decimals = decimalsOf(column, decimals + 1)
  ) {
    const wholes = inSmallerFrames(column, sample, { decimals });
    if (wholes) return wholes;
    if (hasOthers(column)) return undefined;
  }
  return undefined;
}

/** As numbers or as their differences, whichever takes less of a sample. */
function inSmallerFrames(column: Float64Array, sample: Float64Array, scale: Scale): Wholes | undefined {
  const sizeOf = (isSmooth: boolean) => framed(sample, scale, isSmooth)?.frames.packedSize;
  const [plain, smooth] = [sizeOf(false), sizeOf(true)];
  if (plain === undefined || smooth === undefined) return undefined;
  return framed(column, scale, smooth < plain);
}

function framed(column: Float64Array, scale: Scale, isSmooth: boolean): Wholes | undefined {
  if (room.length < column.length) room = new Float64Array(column.length);
  const frames = new Frames(column.length, room);
  const isDecimal = 'decimals' in scale && scale.decimals > 0; // without a place there is nothing to divide
  const unit = 'decimals' in scale ? 10 ** scale.decimals : scale.times;
  const start = isSmooth ? wholeOf(column[0], unit, isDecimal) : undefined;
  let last = start ?? 0;
  for (let index = 0; index < frames.count; index++) {
    if (!putWholes(column, index, unit, isDecimal, isSmooth, last, frames)) return undefined;
    if (isSmooth) last = wholeOf(column[frameAt(index, column.length)[1] - 1], unit, isDecimal);
  }
  return { frames, scale, start };
}

const wholeOf = (x: number, unit: number, isDecimal: boolean): number => Math.round(isDecimal ? x * unit : x / unit);

/** Lays a frame's whole numbers down, in one pass; false where a value is not the one that its number stands for. */
function putWholes(
  column: Float64Array,
  index: number,
  unit: number,
  isDecimal: boolean,
  isSmooth: boolean,
  before: number,
  frames: Frames,
): boolean {
  const { numbers } = frames;
  const [from, to] = frameAt(index, column.length);
  const scale = asFraction(unit);
  const factor = isDecimal ? scale : 1 / scale;
  let last = asFraction(before);
  let least = Infinity;
  let greatest = -Infinity;
  for (let row = from; row < to; row++) {
    const x = column[row];
    const whole = nearestWhole(x * factor);
    const back = isDecimal ? whole / scale : whole * scale;
    if (back !== x || !(Math.abs(whole) < MOST_WHOLE) || isBelowZero(x)) return false;
    const number = whole - last;
    numbers[row] = number;
    if (isSmooth) last = whole;
    if (number < least) least = number;
    if (number > greatest) greatest = number;
  }
  frames.note(index, least, greatest);
  return true;
}

/** A zero below zero is not the whole number 0. */
const isBelowZero = (x: number): boolean => x === 0 && 1 / x < 0;

/** Whether there are values that no whole number stands for at any scale. */
const hasOthers = (column: Float64Array): boolean => column.some((x) => x - x !== 0 || isBelowZero(x));
