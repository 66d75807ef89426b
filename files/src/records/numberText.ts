const ZERO = 48;
const NINE = 57;

/** Powers of ten that a double holds exactly, and a division by which rounds once. */
export const TENS = Float64Array.from({ length: 23 }, (_, exponent) => 10 ** exponent);

/**
 * The double nearest to the decimal number that bytes [from, to) tell: what `Number` makes of the same text.
 * @returns NaN for an empty field, for text that is no number, and for one beyond the largest double
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
  const text = String.fromCharCode(...bytes.subarray(from, Math.min(to, from + 400))).trim();
  return /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(text) ? finite(Number(text)) : NaN;
}

/** Words that stand for a missing value. */
export const MISSING = /^(na|n\/a|nan|null|none|-|–|#n\/a)$/i;

/**
 * A number in a style of its own: a decimal comma, thousands marks, a currency sign, a percent sign, or brackets for a
 * negative amount.
 * @returns NaN where the text is no number in that style
 */
export function readStyledNumber(text: string, decimal: '.' | ','): number {
  let rest = text.replaceAll(/[\s\u00a0\u202f]/g, ' ').trim();
  const isNegative = /^\(.*\)$/.test(rest);
  if (isNegative) rest = rest.slice(1, -1);
  const isPercent = rest.endsWith('%');
  rest = rest
    .replace(/%$/, '')
    .replace(/^([+-]?)\s*(?:[$€£¥₹¤]|kr\.?|[A-Z]{3})\s*/i, '$1')
    .replace(/\s*(?:[$€£¥₹¤]|kr\.?|[A-Z]{3})$/i, '')
    .trim();
  const thousands = decimal === '.' ? "[, '’]" : "[. '’]";
  const mark = decimal === '.' ? '\\.' : ',';
  // thousands marks stand before every third digit, or they are none
  const match = new RegExp(`^([+-]?)(\\d{1,3}(?:${thousands}\\d{3})+|\\d+)?(?:${mark}(\\d*))?(e[+-]?\\d+)?$`, 'i').exec(
    rest,
  );
  if (!match || (match[2] === undefined && !match[3])) return NaN;
  const [, sign, whole = '0', decimals = '', exponent = ''] = match;
  const value = Number(`${sign}${whole.replaceAll(/\D/g, '')}.${decimals}${exponent}`);
  return finite((isNegative ? -value : value) / (isPercent ? 100 : 1));
}

/** A number beyond the largest double is none that could be worked with. */
const finite = (value: number): number => (Number.isFinite(value) ? value : NaN);
