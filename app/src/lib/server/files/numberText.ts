const ZERO = 48;
const NINE = 57;

/** Powers of ten that a double holds exactly, and a division by which rounds once. */
const TENS = Float64Array.from({ length: 23 }, (_, exponent) => 10 ** exponent);

/**
 * The double nearest to the decimal number that bytes [from, to) tell: what `Number` makes of the same text.
 * @returns NaN for an empty field and for text that is no number; `isNumberText` tells the two apart
 */
export function readNumber(bytes: Uint8Array, from: number, to: number): number {
  let at = from;
  const negative = bytes[at] === 45;
  if (negative || bytes[at] === 43) at++;
  let mantissa = 0;
  let decimals = -1;
  const first = at;
  for (; at < to; at++) {
    const byte = bytes[at];
    if (byte >= ZERO && byte <= NINE) {
      mantissa = mantissa * 10 + (byte - ZERO);
      if (decimals >= 0) decimals++;
    } else if (byte === 46 && decimals < 0) decimals = 0;
    else break;
  }
  const places = Math.max(0, decimals);
  // a mantissa below 2^53 and a power of ten below 10^23 are exact, so one division rounds as it should
  if (at === to && at - first > (decimals >= 0 ? 1 : 0) && mantissa < 9e15 && places < 23)
    return (negative ? -mantissa : mantissa) / TENS[places];
  const text = String.fromCharCode(...bytes.subarray(from, to)).trim();
  return /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(text) ? Number(text) : NaN;
}
