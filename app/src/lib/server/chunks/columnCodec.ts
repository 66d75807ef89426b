import { MOST_DECIMALS, decimalsOf } from '@jaunty-ledger/core';

/*
 * One column of a chunk as bytes. A byte says how:
 *   0  doubles as they are
 *   1  whole numbers of `unit`: the first, then zigzag differences, each a variable-length integer
 *   2  the same without differences, for columns whose neighbours do not resemble each other
 *   3  one value that stands in every row
 * Whichever is smallest. A column with missing values among decimal ones is kept as doubles.
 */
const RAW = 0;
const DIFFERENCES = 1;
const VALUES = 2;
const CONSTANT = 3;

/** How the whole numbers of 1 and 2 become values: times the unit (times), or divided by a power of ten (prices). */
type Scale = { times: number } | { decimals: number };

const HEADER_BYTES = 10; // kind, decimals or 255, unit as a double

/** Bytes of a column; `decodeColumn` gives back the same doubles, bit for bit. */
export function encodeColumn(column: Float64Array): Uint8Array {
  const first = column[0];
  if (column.every((value) => Object.is(value, first)))
    return withHeader(CONSTANT, { times: 1 }, new Uint8Array(Float64Array.of(first).buffer));
  const scale = scaleOf(column);
  const raw = () => withHeader(RAW, { times: 1 }, new Uint8Array(column.slice().buffer));
  if (!scale) return raw();
  const wholes = column.map('times' in scale ? (x) => x / scale.times : (x) => Math.round(x * 10 ** scale.decimals));
  const body = new Uint8Array(wholes.length * 10);
  const byDifference = writeVarints(wholes, body, true);
  const candidate = withHeader(DIFFERENCES, scale, body.slice(0, byDifference));
  const byValue = writeVarints(wholes, body, false);
  const best = byValue < byDifference ? withHeader(VALUES, scale, body.slice(0, byValue)) : candidate;
  return best.length < column.byteLength ? best : raw();
}

/** The column of `rows` values that the bytes hold. @throws {RangeError} for bytes that hold none */
export function decodeColumn(bytes: Uint8Array, rows: number): Float64Array<ArrayBuffer> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const kind = bytes[0];
  if (kind === CONSTANT) return new Float64Array(rows).fill(view.getFloat64(HEADER_BYTES, true));
  if (kind === RAW) return new Float64Array(bytes.slice(HEADER_BYTES, HEADER_BYTES + 8 * rows).buffer);
  if (kind !== DIFFERENCES && kind !== VALUES) throw new RangeError(`no way ${kind} to keep a column is known`);
  const column = readVarints(bytes, rows, kind === DIFFERENCES);
  const decimals = bytes[1];
  if (decimals === 255) scaleBy(column, view.getFloat64(2, true));
  else if (decimals > 0) divideBy(column, 10 ** decimals);
  return column;
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

/** Whole numbers by a common unit of seconds, milliseconds or one, or decimals; nothing for other columns. */
function scaleOf(column: Float64Array): Scale | undefined {
  const most = Number.MAX_SAFE_INTEGER / 4;
  for (const times of [1_000_000, 1000])
    if (column.every((x) => x % times === 0 && Math.abs(x) < most && !Object.is(x, -0))) return { times };
  if (!column.every((x) => x - x === 0 && !Object.is(x, -0))) return undefined;
  const decimals = decimalsOf(column);
  if (decimals > MOST_DECIMALS) return undefined;
  return column.every((x) => Math.abs(x * 10 ** decimals) < most) ? { decimals } : undefined;
}

const SPLIT = 2 ** 28; // four bytes of seven bits: numbers above are written in two integers of 32 bits each

/** Zigzag: 0, -1, 1, -2 … become 0, 1, 2, 3 …; seven bits a byte, the lowest first. Returns the bytes written. */
function writeVarints(wholes: Float64Array, bytes: Uint8Array, differences: boolean): number {
  let at = 0;
  let previous = 0;
  for (let row = 0; row < wholes.length; row++) {
    const whole = wholes[row] - previous;
    if (differences) previous = wholes[row];
    let rest = whole < 0 ? -2 * whole - 1 : 2 * whole;
    while (rest >= 128) {
      bytes[at++] = (rest % 128) | 128;
      rest = Math.floor(rest / 128);
    }
    bytes[at++] = rest;
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
