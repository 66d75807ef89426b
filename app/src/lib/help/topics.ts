import { MODEL_FORMS } from '@jaunty-ledger/core';

/** Something that help explains beside functions. */
interface Topic {
  /** By which it is linked to. */
  id: string;
  title: string;
  says: string;
  /** Further words that it is looked for by. */
  words: readonly string[];
  /** The page where it is done. */
  href?: string;
}

/** The pages, and what one does on them. */
const PAGES: readonly Topic[] = [
  {
    id: 'page-records',
    title: 'Import records',
    says: 'Drop a file on Records: CSV, JSON, Parquet, a workbook. Time zone, session, weekdays and closed dates are set there.',
    words: [
      'csv',
      'xlsx',
      'excel',
      'upload',
      'calendar',
      'holidays',
      'trading hours',
      'time zone',
      'weekdays',
      'session',
    ],
    href: '/records',
  },
  {
    id: 'page-ledger',
    title: 'Chart with indicators',
    says: 'A ledger shows bars with entries over them. Type a formula, or a phrase such as “moving average 3 months”, under a lane.',
    words: ['chart', 'candles', 'bars', 'indicator', 'overlay', 'formula', 'plot', 'resample', 'ohlc'],
    href: '/ledger',
  },
  {
    id: 'own-functions',
    title: 'Own functions',
    says: 'An entry is a name for a formula: later entries use its name. Save an entry for other ledgers in its menu; `window(formula, 20 bars)` applies any formula to a rolling window.',
    words: ['own function', 'custom function', 'user function', 'macro', 'saved formulas', 'define', 'rolling apply'],
    href: '/ledger',
  },
  {
    id: 'page-examine',
    title: 'Examine a column',
    says: 'Summary and histogram, autocorrelation, stationarity tests (ADF, KPSS), seasonality, cycles, volatility clustering, long memory.',
    words: [
      ...['stationary', 'stationarity', 'unit root', 'adf', 'kpss', 'acf', 'pacf', 'autocorrelation', 'correlogram'],
      ...['seasonality', 'seasonal', 'periodogram', 'spectrum', 'cycle', 'histogram', 'distribution', 'normality'],
      ...['random walk', 'variance ratio', 'arch', 'heteroskedasticity', 'hurst', 'long memory', 'differencing'],
    ],
    href: '/examine',
  },
  {
    id: 'page-project',
    title: 'Forecast a column',
    says: 'Project continues a column by several models, with 80 % and 95 % intervals, and backtests each on earlier data.',
    words: [
      'forecast',
      'prediction',
      'predict',
      'projection',
      'backtest',
      'interval',
      'fan chart',
      'residuals',
      'accuracy',
    ],
    href: '/project',
  },
  {
    id: 'page-compare',
    title: 'Compare tapes',
    says: 'Several tapes on one scale: rebased lines, their average, correlation matrix, lead and lag, spread, cointegration, divergences.',
    words: [
      'pair',
      'pairs',
      'spread',
      'cointegration',
      'lead',
      'lag',
      'divergence',
      'correlation matrix',
      'beta',
      'relative strength',
    ],
    href: '/compare',
  },
  {
    id: 'page-roll',
    title: 'Roll of tapes',
    says: 'A table with a row per tape and a column per formula, sorted and filtered: a screen of the whole list.',
    words: ['screener', 'ranking', 'table', 'watchlist', 'scan', 'filter', 'sort'],
    href: '/roll',
  },
  {
    id: 'page-handover',
    title: 'Hand over',
    says: 'A page of charts, tables and text to send: each figure keeps its source. Export figures as CSV, pictures as SVG or PNG.',
    words: ['report', 'export', 'pdf', 'print', 'share', 'publish', 'picture', 'png', 'svg', 'link'],
    href: '/handover',
  },
];

const MODELS: readonly Topic[] = MODEL_FORMS.map(({ text, says, words }) => ({
  id: `model-${text.replaceAll(/\W+/g, '-').replace(/-$/, '')}`,
  title: text,
  says,
  words: ['model', 'forecast', ...words],
}));

/** Topics by their section. */
export const TOPICS: readonly { section: string; isCode: boolean; topics: readonly Topic[] }[] = [
  { section: 'Pages', isCode: false, topics: PAGES },
  { section: 'Models of Project', isCode: true, topics: MODELS },
];

/** Whether all words that are looked for occur in some texts. */
export function isFound(wanted: string, texts: readonly string[]): boolean {
  const text = texts.join(' ').toLowerCase();
  return wanted
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}
