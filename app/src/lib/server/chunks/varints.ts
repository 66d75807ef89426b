/**
 * Zigzag: 0, -1, 1, -2 … stand as 0, 1, 2, 3 …; seven bits a byte, the lowest first. Tapes that earlier versions stored
 * are kept so; new ones are kept in frames.
 * @throws {RangeError} where the bytes end too early
 */
export function readVarints(bytes: Uint8Array, rows: number): Float64Array<ArrayBuffer> {
  const out = new Float64Array(rows);
  let at = 0;
  for (let row = 0; row < rows; row++) {
    let long = 0;
    let byte = 128;
    for (let scale = 1; byte >= 128 && at < bytes.length; scale *= 128) {
      byte = bytes[at++];
      long += (byte & 127) * scale;
    }
    if (byte >= 128) throw new RangeError(`the column ends before row ${row}`);
    out[row] = long % 2 === 0 ? long / 2 : -(long + 1) / 2;
  }
  return out;
}
