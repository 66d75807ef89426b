import { decimalsOf, MOST_DECIMALS, pieces } from '@jaunty-ledger/core';
import { frameAt, FrameReader, packedSize, packFrames } from './frames';
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

export interface EncodedColumn {
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
  const raw = () => withHeader(RAW, { times: 1 }, new Uint8Array(column.slice().buffer));
  const whole = wholesOf(column);
  if (!whole) return { bytes: raw(), decimals: undefined };
  const { wholes, scale } = whole;
  const decimals = 'decimals' in scale ? scale.decimals : 0;
  const sample = wholes.subarray(0, SAMPLE_ROWS);
  const isSmooth = packedSize(differencesOf(sample)) < packedSize(sample);
  const packed = isSmooth
    ? withHeader(DIFFERENCES, scale, withFirst(wholes[0], packFrames(differencesOf(wholes))))
    : withHeader(VALUES, scale, packFrames(wholes));
  return { bytes: packed.length < column.byteLength ? packed : raw(), decimals };
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

/** The step of a column that goes in equal ones, 0 for one value in every row; undefined for other columns. */
function stepOf(column: Float64Array): number | undefined {
  const first = column[0];
  const step = column.length > 1 && !Object.is(column[1], first) ? column[1] - first : 0;
  for (const [from, to] of pieces(0, column.length)) if (!goesBy(column, from, to, first, step)) return undefined;
  return step;
}

function goesBy(column: Float64Array, from: number, to: number, first: number, step: number): boolean {
  if (step !== 0) {
    for (let row = from; row < to; row++) if (column[row] !== first + row * step) return false;
  } else if (first === 0 || Number.isNaN(first)) {
    for (let row = from; row < to; row++) if (!Object.is(column[row], first)) return false;
  } else for (let row = from; row < to; row++) if (column[row] !== first) return false;
  return true;
}

/*
 * Columns between the values and their bytes, one of each kind at a time: memory that is taken anew for every column is
 * cleared first, which takes longer than what is done with it.
 */
let wholesRoom = new Float64Array(0);
let differencesRoom = new Float64Array(0);

function differencesOf(wholes: Float64Array): Float64Array {
  if (differencesRoom.length < wholes.length) differencesRoom = new Float64Array(wholes.length);
  const differences = differencesRoom.subarray(0, wholes.length);
  for (const [from, to] of pieces(0, wholes.length)) putDifferences(wholes, from, to, differences);
  differences[0] = 0;
  return differences;
}

function putDifferences(wholes: Float64Array, from: number, to: number, differences: Float64Array): void {
  let last = from > 0 ? wholes[from - 1] : 0;
  for (let row = from; row < to; row++) {
    differences[row] = wholes[row] - last;
    last = wholes[row];
  }
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

/** The column as whole numbers: times of seconds or milliseconds, or decimals; nothing for other columns. */
function wholesOf(column: Float64Array): { wholes: Float64Array; scale: Scale } | undefined {
  const sample = column.subarray(0, SAMPLE_ROWS);
  for (const unit of [1_000_000, 1000]) {
    const wholes = quotientsOf(sample, unit) && quotientsOf(column, unit);
    if (wholes) return { wholes, scale: { times: unit } };
  }
  // whole numbers are their own quotients by 1, the quickest to find
  const same = quotientsOf(sample, 1) && quotientsOf(column, 1);
  if (same) return { wholes: same, scale: { decimals: 0 } };
  for (
    let decimals = Math.max(1, decimalsOf(sample));
    decimals <= MOST_DECIMALS;
    decimals = decimalsOf(column, decimals + 1)
  ) {
    const wholes = productsOf(column, 10 ** decimals);
    if (wholes) return { wholes, scale: { decimals } };
    if (hasOthers(column)) return undefined;
  }
  return undefined;
}

function roomFor(rows: number): Float64Array {
  if (wholesRoom.length < rows) wholesRoom = new Float64Array(rows);
  return wholesRoom.subarray(0, rows);
}

/** The values divided by a unit, where all of them are whole then. */
function quotientsOf(column: Float64Array, unit: number): Float64Array | undefined {
  const wholes = roomFor(column.length);
  for (const [from, to] of pieces(0, column.length))
    if (!putQuotients(column, from, to, unit, wholes)) return undefined;
  return wholes;
}

function putQuotients(column: Float64Array, from: number, to: number, unit: number, wholes: Float64Array): boolean {
  for (let row = from; row < to; row++) {
    // a quotient of whole numbers of this size is whole only if the division goes without a remainder
    const whole = column[row] / unit;
    if (Math.floor(whole) !== whole || !(Math.abs(column[row]) < MOST_WHOLE) || isBelowZero(whole)) return false;
    wholes[row] = whole;
  }
  return true;
}

/** The values times a power of ten, where all of them come back out of that. */
function productsOf(column: Float64Array, power: number): Float64Array | undefined {
  const wholes = roomFor(column.length);
  for (const [from, to] of pieces(0, column.length))
    if (!putProducts(column, from, to, power, wholes)) return undefined;
  return wholes;
}

function putProducts(column: Float64Array, from: number, to: number, power: number, wholes: Float64Array): boolean {
  for (let row = from; row < to; row++) {
    const whole = Math.round(column[row] * power);
    if (whole / power !== column[row] || !(Math.abs(whole) < MOST_WHOLE) || isBelowZero(column[row])) return false;
    wholes[row] = whole;
  }
  return true;
}

/** A zero below zero is not the whole number 0. */
const isBelowZero = (x: number): boolean => x === 0 && 1 / x < 0;

/** Whether there are values that no whole number stands for at any scale. */
const hasOthers = (column: Float64Array): boolean => column.some((x) => x - x !== 0 || isBelowZero(x));
