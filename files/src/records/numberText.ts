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

/** No number is written longer; longer texts need not be looked through. */
const LONGEST_NUMBER = 400;

/** Words that stand for a missing value. */
export const MISSING = /^(\.|\?|-{1,3}|[–—]|na|n\.a\.|#?n\/a|#na|nan|null|nil|none|missing|#value!|\\n)$/i;

/** What a figure is multiplied by for the letters behind it. */
const SCALES: Readonly<Record<string, number>> = {
  k: 1e3,
  m: 1e6,
  mm: 1e6,
  mn: 1e6,
  mio: 1e6,
  g: 1e9,
  b: 1e9,
  bn: 1e9,
  mrd: 1e9,
  t: 1e12,
};

/**
 * A number in a style of its own: a decimal comma, thousands marks, a currency sign, a percent sign, brackets or a minus
 * behind it for a negative amount, or a scale such as `K`, `M` or `bn`.
 * @returns NaN where the text is no number in that style
 */
export function readStyledNumber(text: string, decimal: '.' | ','): number {
  if (text.length > LONGEST_NUMBER) return NaN;
  let rest = text.replaceAll(/[\s\u00a0\u202f]/g, ' ').trim();
  const inBrackets = /^\(.*\)$/.test(rest);
  if (inBrackets) rest = rest.slice(1, -1);
  const isNegative = inBrackets || /\d\s*[-−]$/.test(rest);
  rest = rest.replace(/(\d)\s*[-−]$/, '$1').replace(/^−/, '-');
  const isPercent = rest.endsWith('%');
  rest = rest
    .replace(/%$/, '')
    .replace(/^([+-]?)\s*(?:[$€£¥₹¤]|kr\.?|[A-Z]{3})\s*/i, '$1')
    .replace(/\s*(?:[$€£¥₹¤]|kr\.?|(?!mio|mrd)[A-Z]{3})$/i, '')
    .trim();
  const scaled = /^(.*\d[.,]?)\s*(k|m|mm|mn|mio|g|b|bn|mrd|t)\.?$/i.exec(rest);
  const scale = scaled ? SCALES[scaled[2].toLowerCase()] : 1;
  if (scaled) rest = scaled[1];
  const thousands = decimal === '.' ? "[, '’]" : "[. '’]";
  const mark = decimal === '.' ? '\\.' : ',';
  // thousands marks stand before every third digit, or in the Indian way before every second one beyond; else they are none
  const match = new RegExp(
    `^([+-]?)(\\d{1,3}(?:${thousands}\\d{3})+|\\d{1,2}(?:${thousands}\\d{2})+${thousands}\\d{3}|\\d+)?(?:${mark}(\\d*))?(e[+-]?\\d+)?$`,
    'i',
  ).exec(rest);
  if (!match || (match[2] === undefined && !match[3])) return NaN;
  const [, sign, whole = '0', decimals = '', exponent = ''] = match;
  const value = Number(`${sign}${whole.replaceAll(/\D/g, '')}.${decimals}${exponent}`);
  return finite(((isNegative ? -value : value) * scale) / (isPercent ? 100 : 1));
}

/** A number beyond the largest double is none that could be worked with. */
const finite = (value: number): number => (Number.isFinite(value) ? value : NaN);
