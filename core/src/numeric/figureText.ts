import { format } from 'd3-format';
import type { Unit } from '../catalogue/units.js';

/* How figures are written, everywhere: at least the decimals of the data, one more for averages of whole numbers, as many as
   show three digits of a small move, and − for minus. The figure in full is always at hand beside a shortened one. */

const grouped = format(',');
const significant = format(',.4r');
const hundredths = format(',.2f');
const whole = format(',.0f');

interface Writing {
  /** Whether a plus is written too. */
  isSigned?: boolean;
  /** What stands for a value that is missing. */
  missing?: string;
}

/**
 * A figure of a unit.
 * @param decimals  of prices, as the tape has them
 */
export function figureText(
  value: number | null,
  unit: Unit,
  decimals: number,
  { isSigned = false, missing = '–' }: Writing = {},
): string {
  if (value === null || Number.isNaN(value)) return missing;
  if (unit === 'truth') return value === 0 ? 'no' : 'yes';
  const text = minus(plainText(value, unit, decimals));
  return isSigned && value > 0 && /[1-9]/.test(text) ? `+${text}` : text;
}

function plainText(value: number, unit: Exclude<Unit, 'truth'>, decimals: number): string {
  switch (unit) {
    case 'price':
      return format(`,.${levelPlaces(value, decimals)}f`)(value);
    case 'move':
      return format(`,.${movePlaces(value, decimals)}f`)(value);
    case 'fraction':
      return `${format(`.${percentPlaces(100 * value)}f`)(100 * value)} %`;
    case 'value':
      return (Math.abs(value) < 1000 ? hundredths : whole)(value);
    case 'units':
    case 'trades':
    case 'number':
      if (Number.isInteger(value) && Math.abs(value) < 1e15) return grouped(value);
      return (Math.abs(value) < 1000 ? significant : hundredths)(value);
  }
}

/** Places of a level: those of the data, and one where whole numbers were averaged. */
const levelPlaces = (value: number, decimals: number): number =>
  decimals === 0 && !Number.isInteger(value) ? 1 : decimals;

/** Places of a difference: those of the data where they say it all, else as many as show three figures of it. */
function movePlaces(value: number, decimals: number): number {
  const scaled = Math.abs(value) * 10 ** decimals;
  if (Math.abs(scaled - Math.round(scaled)) <= 1e-6) return value !== 0 && scaled < 0.5 ? smallPlaces(value) : decimals;
  return Math.max(decimals, smallPlaces(value));
}

const smallPlaces = (value: number): number => Math.min(12, 2 - Math.floor(Math.log10(Math.abs(value))));

/** Small shares get more places, so that three figures of them are seen. */
function percentPlaces(percent: number): number {
  const size = Math.abs(percent);
  return size >= 1 || size === 0 ? 2 : size >= 0.1 ? 3 : 4;
}

/** D3 writes the typographic minus; a zero that was rounded from below has none. */
const minus = (text: string): string => text.replace(/^−(0(?:\.0*)?(?: %)?)$/, '$1');

/** A share as a signed percentage of one place, such as a move. */
export const movePercent = (share: number | null): string => {
  if (share === null || Number.isNaN(share)) return '–';
  const text = minus(format('.1f')(100 * share));
  return `${/[1-9]/.test(text) && share > 0 ? '+' : ''}${text} %`;
};

/** Values of a series that are looked at to find its decimals. */
const MOST_LOOKED_AT = 5000;
const MOST_DECIMALS = 8;
/** What subtracting decimals leaves behind their last one. */
const NOISE = 1e-9;

/** Decimals of the values of a series; undefined for values that were computed, which have as many as there are digits. */
function decimalsOf(values: readonly (number | null)[]): number | undefined {
  const looked = values.slice(-MOST_LOOKED_AT).filter((value) => value !== null && Number.isFinite(value)) as number[];
  for (let decimals = 0; decimals <= MOST_DECIMALS; decimals++) {
    const scale = 10 ** decimals;
    if (
      looked.every(
        (value) =>
          Math.abs(value * scale - Math.round(value * scale)) <= NOISE + 8 * Number.EPSILON * Math.abs(value * scale),
      )
    )
      return decimals;
  }
  return undefined;
}

type FigureWriter = (value: number | null) => string;

/** How levels of a series are written, and distances in it. */
export interface SeriesFigures {
  level: FigureWriter;
  distance: FigureWriter;
}

/** Writes levels of a series, such as its mean, with its decimals, or four digits of how far it reaches; and distances in it. */
export function seriesFigures(values: readonly (number | null)[]): SeriesFigures {
  const decimals = decimalsOf(values) ?? reachPlaces(values);
  const written = (unit: 'price' | 'move') => (value: number | null) =>
    figureText(value, unit, decimals, { missing: 'missing' });
  return { level: written('price'), distance: written('move') };
}

function reachPlaces(values: readonly (number | null)[]): number {
  let [min, max] = [Infinity, -Infinity];
  for (const value of values) {
    if (value === null || !Number.isFinite(value)) continue;
    min = Math.min(min, value);
    max = Math.max(max, value);
  }
  const reach = max - min;
  return reach > 0 ? Math.min(12, Math.max(0, 3 - Math.floor(Math.log10(reach)))) : 4;
}
