import { meantBy } from '../catalogue/commonWords.js';
import type { Completion } from './complete.js';

/** What the bars of a ledger are like: which entries suit them. */
export interface PhraseContext {
  /** The name of their values: `close`, `rainfall_mm`. */
  value: string;
  /** Bars of a window that suits them. */
  bars: number;
  /** How many bars there are. */
  rows: number;
  /** What a bar is, where it is one whole `day`, `month` and so on: a phrase in that unit counts bars. */
  unit?: string;
  /** Whether they have open, high and low. */
  hasPrices: boolean;
  /** A column of another tape, `SALT.close`. */
  other?: string;
  /** Names of columns and entries. */
  names: ReadonlySet<string>;
}

/** What a phrase names: the value, and a window as it is written. */
interface Given {
  value: string;
  window: string;
  /** The window in bars, for functions that take no other. */
  bars: number;
  isInBars: boolean;
  /** Whether the phrase says how long it is. */
  isGiven: boolean;
  context: PhraseContext;
}

interface Measure {
  /** Phrases that mean it; the first is shown. */
  words: readonly string[];
  /** The function whose names and common words mean it too. */
  of?: string;
  /** The name of its entry. */
  name: string;
  /** Its formula; undefined where these bars have none. */
  formula: (given: Given) => string | undefined;
  /** Whether it is offered on an empty line. */
  isStart?: true;
}

const MIN_HURST = 64;
const USUAL_HURST = 256;
/** Windows of an exponent are long: the usual ones only where they are asked for. */
function hurstBars({ bars, isInBars, isGiven, context: { rows } }: Given): number {
  if (isGiven && isInBars) return Math.max(MIN_HURST, bars);
  return rows >= 4 * USUAL_HURST ? USUAL_HURST : MIN_HURST;
}

/** Whether a window is in months: a half-life is elapsed time. */
const ofCalendar = (window: string): boolean => /(months|quarters|years)$/.test(window);

const moves = ({ value, context }: Given) => (context.hasPrices ? `logreturn(${value})` : `change(${value})`);
const over =
  (name: string) =>
  ({ value, window }: Given): string =>
    `${name}(${value}, ${window})`;
const ofPrices =
  (formula: (bars: number) => string) =>
  ({ context, bars, isInBars }: Given): string | undefined =>
    context.hasPrices && isInBars ? formula(bars) : undefined;

const MEASURES: readonly Measure[] = [
  {
    words: ['moving average', 'simple moving average', 'rolling mean'],
    of: 'mean',
    name: 'average',
    formula: over('mean'),
    isStart: true,
  },
  {
    words: ['exponential moving average', 'exponential average'],
    of: 'ema',
    name: 'smooth',
    formula: ({ value, window, isInBars }) =>
      isInBars ? `ema(${value}, ${window})` : ofCalendar(window) ? undefined : `ema(${value}, halflife: ${window})`,
    isStart: true,
  },
  { words: ['weighted moving average', 'weighted average'], of: 'wma', name: 'weighted', formula: over('wma') },
  { words: ['change'], of: 'change', name: 'moves', formula: ({ value }) => `change(${value})`, isStart: true },
  {
    words: ['percent change', 'percentage change', 'growth rate'],
    of: 'return',
    name: 'pct',
    formula: ({ value }) => `return(${value})`,
    isStart: true,
  },
  {
    words: ['log return', 'log returns'],
    of: 'logreturn',
    name: 'logmoves',
    formula: ({ value }) => `logreturn(${value})`,
  },
  {
    words: ['bands', 'bollinger bands'],
    of: 'bands',
    name: 'band',
    formula: ({ value, window }) => `bands(${value}, ${window}, 2)`,
    isStart: true,
  },
  {
    words: ['volatility', 'vol', 'rolling volatility', 'realized volatility'],
    of: 'volatility',
    name: 'vol',
    formula: (given) =>
      given.context.hasPrices && given.isInBars
        ? `volatility(${given.window})`
        : `stdev(${moves(given)}, ${given.window})`,
    isStart: true,
  },
  { words: ['standard deviation'], of: 'stdev', name: 'spread', formula: over('stdev') },
  {
    words: ['slope', 'trend slope', 'regression slope', 'linear trend'],
    of: 'slope',
    name: 'trend',
    formula: over('slope'),
    isStart: true,
  },
  {
    words: ['Hurst exponent', 'long memory'],
    of: 'hurst',
    name: 'memory',
    formula: (given) => (given.isInBars ? `hurst(${moves(given)}, ${hurstBars(given)} bars)` : undefined),
    isStart: true,
  },
  { words: ['median', 'rolling median', 'moving median'], of: 'median', name: 'middle', formula: over('median') },
  { words: ['maximum'], of: 'max', name: 'highest', formula: over('max') },
  { words: ['minimum'], of: 'min', name: 'lowest', formula: over('min') },
  { words: ['sum', 'rolling sum'], of: 'sum', name: 'total', formula: over('sum') },
  {
    words: ['running total', 'cumulative sum'],
    of: 'cumulative',
    name: 'running',
    formula: ({ value }) => `cumulative(${value})`,
  },
  { words: ['z-score', 'standard score'], of: 'zscore', name: 'score', formula: over('zscore') },
  { words: ['percentile rank'], of: 'rank', name: 'standing', formula: over('rank') },
  { words: ['skewness'], of: 'skewness', name: 'skew', formula: over('skewness') },
  { words: ['kurtosis'], of: 'kurtosis', name: 'tails', formula: over('kurtosis') },
  {
    words: ['relative strength index'],
    of: 'rsi',
    name: 'strength',
    formula: ({ value, bars, isInBars }) => (isInBars ? `rsi(${value}, ${bars} bars)` : undefined),
  },
  { words: ['average true range'], of: 'atr', name: 'range', formula: ofPrices((bars) => `atr(${bars} bars)`) },
  {
    words: ['correlation', 'rolling correlation'],
    of: 'correlation',
    name: 'together',
    formula: ({ value, window, context: { other } }) =>
      other && `correlation(return(${value}), return(${other}), ${window})`,
  },
  {
    words: ["another tape's column", 'another tape', 'compare with'],
    name: 'other',
    formula: ({ context: { other } }) => other,
    isStart: true,
  },
];

const MOST_ITEMS = 6;
const UNITS: Readonly<Record<string, string>> = {
  d: 'days',
  w: 'weeks',
  y: 'years',
  min: 'minutes',
  bar: 'bars',
  row: 'bars',
  period: 'bars',
  second: 'seconds',
  minute: 'minutes',
  hour: 'hours',
  day: 'days',
  week: 'weeks',
  month: 'months',
  quarter: 'quarters',
  year: 'years',
};
const ARTICLES = new Set(['of', 'the', 'a', 'an']);
const FILLERS = new Set(['of', 'over', 'the', 'last', 'past', 'a', 'an', 'for', 'in', 'with', 'rolling']);

/** Entries that an empty line can be started with, in words of the trade. */
export function startingEntries(context: PhraseContext): Completion[] {
  const given = givenBy(context);
  return MEASURES.flatMap((measure) => (measure.isStart ? offers(measure, given, measure.words[0]) : []));
}

/**
 * Entries that a phrase means, `moving average 3 months` or `20 day volatility`, each of which takes the place of the whole
 * text. Nothing where the text is a formula, or the name of a column or an entry.
 */
export function phraseCompletions(text: string, context: PhraseContext): Completion[] {
  const plain = text.trim();
  if (plain === '' || !/^[\w\s.%-]+$/.test(plain) || context.names.has(plain)) return [];
  const size = /(\d+)[\s-]*([a-z]+?)s?(?=[\s-]|$)/i.exec(plain);
  const bare = /(?:^|\s)(\d+)(?=\s|$)/.exec(plain);
  const unit = size ? UNITS[size[2].toLowerCase()] : undefined;
  const found = size && unit ? size : bare;
  const rest = found ? plain.replace(found[0], ' ') : plain;
  const words = rest
    .replaceAll('%', ' percent ')
    .split(/\s+/)
    .filter((word) => word !== '');
  const count = found ? Number(found[1]) : context.bars;
  if (count < 1) return [];
  const isInBars = unit === undefined || unit === 'bars' || unit === `${context.unit}s`;
  const window = found && { window: `${count} ${isInBars ? 'bars' : unit}`, isInBars, isGiven: true, bars: count };
  // a word may be a column as well as a measure: `moving average` where an entry is called average
  const named = words.find((word) => context.names.has(word));
  for (const column of new Set([undefined, named])) {
    const { exact, started } = measuresOf(words.filter((word) => word !== column));
    const given: Given = { ...givenBy(context), value: column ?? context.value, ...window };
    const items = [
      ...exact.flatMap((measure) => offers(measure, given, plain.replaceAll(/\s+/g, ' '))),
      ...started.flatMap((measure) => offers(measure, given, measure.words[0])),
    ];
    if (items.length > 0) return items.slice(0, MOST_ITEMS);
  }
  return [];
}

/** The measures that some words mean, and those whose phrases start with them. */
function measuresOf(words: readonly string[]): { exact: Measure[]; started: Measure[] } {
  const without = (fillers: ReadonlySet<string>) =>
    words
      .filter((word) => !fillers.has(word.toLowerCase()))
      .join(' ')
      .toLowerCase();
  const [all, short] = [without(ARTICLES), without(FILLERS)];
  if (short.length < 2) return { exact: [], started: [] };
  const named = meantBy(short) ?? short;
  const isMeant = (word: string) => [all, short].includes(word.toLowerCase());
  const begins = (word: string) => short.length >= 4 && word.toLowerCase().startsWith(short);
  const byPhrase = MEASURES.filter(({ words }) => words.some(isMeant));
  const exact = byPhrase.length > 0 ? byPhrase : MEASURES.filter(({ of }) => of === named);
  return { exact, started: MEASURES.filter((measure) => !exact.includes(measure) && measure.words.some(begins)) };
}

const givenBy = (context: PhraseContext): Given => ({
  value: context.value,
  window: `${context.bars} bars`,
  bars: context.bars,
  isInBars: true,
  isGiven: false,
  context,
});

function offers({ name, formula }: Measure, given: Given, says: string): Completion[] {
  const written = formula(given);
  if (written === undefined) return [];
  let free = name;
  for (let number = 2; given.context.names.has(free); number++) free = `${name}${number}`;
  const text = `${free} = ${written}`;
  return [{ text, cursor: text.length, says }];
}
