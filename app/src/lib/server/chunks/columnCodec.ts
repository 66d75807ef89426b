import { MOST_DECIMALS, decimalsOf } from '@jaunty-ledger/core';

/*
 * One column of a chunk as bytes. A byte says how:
 *   0  doubles as they are
 *   1  whole numbers: the first, then zigzag differences, each a variable-length integer
 *   2  the same without differences, for columns whose neighbours do not resemble each other
 *   3  values that go in equal steps, none included: the first, and the step
 * Whole numbers are times of a unit, or decimals without their point. A column with missing values among decimal ones is
 * kept as doubles.
 */
const RAW = 0;
const DIFFERENCES = 1;
const VALUES = 2;
const STEPS = 3;

/** How whole numbers become values: times the unit (times), or divided by a power of ten (prices). */
type Scale = { times: number } | { decimals: number };

const HEADER_BYTES = 10; // kind, decimals or 255, unit as a double
const MOST_VARINT_BYTES = 8;
/** Rows that tell whether differences are smaller than values. */
const SAMPLE_ROWS = 2000;

/** Bytes of a column; `decodeColumn` gives back the same doubles, bit for bit. */
export function encodeColumn(column: Float64Array): Uint8Array {
  const step = stepOf(column);
  if (step !== undefined)
    return withHeader(STEPS, { times: 1 }, new Uint8Array(Float64Array.of(column[0], step).buffer));
  const scale = scaleOf(column);
  const raw = () => withHeader(RAW, { times: 1 }, new Uint8Array(column.slice().buffer));
  if (!scale) return raw();
  const wholes = wholesOf(column, scale);
  const sample = wholes.subarray(0, SAMPLE_ROWS);
  const scratch = new Uint8Array(Math.max(wholes.length, SAMPLE_ROWS) * MOST_VARINT_BYTES);
  const differences = writeVarints(sample, scratch, true) <= writeVarints(sample, scratch, false);
  const length = writeVarints(wholes, scratch, differences);
  const packed = withHeader(differences ? DIFFERENCES : VALUES, scale, scratch.subarray(0, length));
  return packed.length < column.byteLength ? packed : raw();
}

/** The column of `rows` values that the bytes hold. @throws {RangeError} for bytes that hold none */
export function decodeColumn(bytes: Uint8Array, rows: number): Float64Array<ArrayBuffer> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const kind = bytes[0];
  if (kind === STEPS) {
    const [first, step] = [view.getFloat64(HEADER_BYTES, true), view.getFloat64(HEADER_BYTES + 8, true)];
    if (step === 0) return new Float64Array(rows).fill(first);
    const column = new Float64Array(rows);
    for (let row = 0; row < rows; row++) column[row] = first + row * step;
    return column;
  }
  if (kind === RAW) return new Float64Array(bytes.slice(HEADER_BYTES, HEADER_BYTES + 8 * rows).buffer);
  if (kind !== DIFFERENCES && kind !== VALUES) throw new RangeError(`no way ${kind} to keep a column is known`);
  const column = readVarints(bytes, rows, kind === DIFFERENCES);
  const decimals = bytes[1];
  if (decimals === 255) scaleBy(column, view.getFloat64(2, true));
  else if (decimals > 0) divideBy(column, 10 ** decimals);
  return column;
}

/** The step of a column that goes in equal ones, 0 for one value in every row; undefined for other columns. */
function stepOf(column: Float64Array): number | undefined {
  const first = column[0];
  const step = column.length > 1 && !Object.is(column[1], first) ? column[1] - first : 0;
  for (let row = 1; row < column.length; row++) {
    if (step === 0 ? !Object.is(column[row], first) : column[row] !== first + row * step) return undefined;
  }
  return step;
}

function wholesOf(column: Float64Array, scale: Scale): Float64Array {
  const wholes = new Float64Array(column.length);
  if ('times' in scale) for (let row = 0; row < column.length; row++) wholes[row] = column[row] / scale.times;
  else {
    const power = 10 ** scale.decimals;
    for (let row = 0; row < column.length; row++) wholes[row] = Math.round(column[row] * power);
  }
  return wholes;
}

function scaleBy(column: Float64Array, unit: number): void {
  if (unit === 1) return;
  for (let row = 0; row < column.length; row++) column[row] *= unit;
}

function divideBy(column: Float64Array, scale: number): void {
  // a division, not a product with 0.01: only it gives back the double that the decimal text meant
  for (let row = 0; row < column.length; row++) column[row] /= scale;
}

function withHeader(kind: number, scale: Scale, body: Uint8Array): Uint8Array {
  const bytes = new Uint8Array(HEADER_BYTES + body.length);
  bytes[0] = kind;
  bytes[1] = 'decimals' in scale ? scale.decimals : 255;
  new DataView(bytes.buffer).setFloat64(2, 'times' in scale ? scale.times : 1, true);
  bytes.set(body, HEADER_BYTES);
  return bytes;
}

/** Whole numbers by a common unit of seconds or milliseconds, or decimals; nothing for other columns. */
function scaleOf(column: Float64Array): Scale | undefined {
  const most = Number.MAX_SAFE_INTEGER / 4;
  let seconds = true;
  let millis = true;
  let largest = 0;
  for (let row = 0; row < column.length; row++) {
    const x = column[row];
    if (x - x !== 0 || (x === 0 && 1 / x < 0)) return undefined; // missing, infinite, or a zero below zero
    const size = Math.abs(x);
    if (size > largest) largest = size;
    if (seconds && !isWhole(x / 1_000_000)) seconds = false;
    if (millis && !isWhole(x / 1000)) millis = false;
  }
  if (largest < most && (seconds || millis)) return { times: seconds ? 1_000_000 : 1000 };
  const decimals = decimalsOf(column);
  return decimals > MOST_DECIMALS || largest * 10 ** decimals >= most ? undefined : { decimals };
}

/** Quicker than a remainder; a quotient of such numbers is whole only if it goes without one. */
const isWhole = (x: number): boolean => Math.floor(x) === x;

const SPLIT = 2 ** 28; // four bytes of seven bits: longer numbers go on in doubles

/** Zigzag: 0, -1, 1, -2 … become 0, 1, 2, 3 …; seven bits a byte, the lowest first. Returns the bytes written. */
function writeVarints(wholes: Float64Array, bytes: Uint8Array, differences: boolean): number {
  let at = 0;
  let previous = 0;
  for (let row = 0; row < wholes.length; row++) {
    const whole = wholes[row] - previous;
    if (differences) previous = wholes[row];
    let rest = whole < 0 ? -2 * whole - 1 : 2 * whole;
    while (rest >= SPLIT) {
      bytes[at++] = (rest % 128) | 128;
      rest = Math.floor(rest / 128);
    }
    let small = rest | 0;
    while (small >= 128) {
      bytes[at++] = (small & 127) | 128;
      small >>>= 7;
    }
    bytes[at++] = small;
  }
  return at;
}

function readVarints(bytes: Uint8Array, rows: number, differences: boolean): Float64Array<ArrayBuffer> {
  const out = new Float64Array(rows);
  let at = HEADER_BYTES;
  let previous = 0;
  for (let row = 0; row < rows; row++) {
    let byte = bytes[at++];
    let zigzag = byte & 127;
    let whole: number;
    if (byte < 128) whole = (zigzag >>> 1) ^ -(zigzag & 1);
    else {
      // up to four bytes fit the integer unit; longer ones go on in doubles
      byte = bytes[at++];
      zigzag |= (byte & 127) << 7;
      if (byte >= 128) {
        byte = bytes[at++];
        zigzag |= (byte & 127) << 14;
        if (byte >= 128) {
          byte = bytes[at++];
          zigzag |= (byte & 127) << 21;
        }
      }
      if (byte < 128) whole = (zigzag >>> 1) ^ -(zigzag & 1);
      else {
        let long = zigzag;
        for (let scale = SPLIT; byte >= 128; scale *= 128) {
          byte = bytes[at++];
          long += (byte & 127) * scale;
        }
        whole = long % 2 === 0 ? long / 2 : -(long + 1) / 2;
      }
    }
    if (differences) whole = previous += whole;
    out[row] = whole;
  }
  if (at > bytes.length) throw new RangeError(`the column ends after ${bytes.length} bytes, before row ${rows}`);
  return out;
}
