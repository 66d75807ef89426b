/** Words of the trade and of statistics by which functions are looked for that are called something else here. */
const COMMON: Readonly<Record<string, string>> = {
  average: 'mean',
  avg: 'mean',
  moving: 'mean',
  ma: 'mean',
  sma: 'mean',
  rolling: 'mean',
  smooth: 'mean',
  exponential: 'ema',
  ewma: 'ema',
  ewm: 'ema',
  weighted: 'wma',
  total: 'sum',
  cumsum: 'cumulative',
  running: 'cumulative',
  std: 'stdev',
  stddev: 'stdev',
  sd: 'stdev',
  deviation: 'stdev',
  sigma: 'stdev',
  var: 'variance',
  corr: 'correlation',
  cor: 'correlation',
  cov: 'covariance',
  diff: 'change',
  difference: 'change',
  delta: 'change',
  momentum: 'change',
  roc: 'return',
  pct: 'return',
  percent: 'return',
  ret: 'return',
  returns: 'return',
  shift: 'lag',
  prev: 'lag',
  previous: 'lag',
  delay: 'lag',
  ahead: 'lead',
  next: 'lead',
  trend: 'slope',
  regression: 'slope',
  linreg: 'slope',
  gradient: 'slope',
  forecast: 'fit',
  r2: 'rsquared',
  acf: 'correlation', // with itself some rows before: correlation(x, lag(x), 60 bars)
  autocorr: 'correlation',
  autocorrelation: 'correlation',
  normalize: 'zscore',
  standardize: 'zscore',
  score: 'zscore',
  percentile: 'quantile',
  highest: 'max',
  lowest: 'min',
  maximum: 'max',
  minimum: 'min',
  skew: 'skewness',
  kurt: 'kurtosis',
  vol: 'stdev',
  ln: 'log',
  coalesce: 'orelse',
  fillna: 'orelse',
  index: 'rebase',
  oscillator: 'macd',
  envelope: 'bands',
  bollinger: 'bands',
  alpha: 'ema', // its factor
  percentage: 'return',
  growth: 'return',
};

/** The function that a common word means, if it is no function itself. */
export const meantBy = (word: string): string | undefined => {
  const key = word.toLowerCase();
  return Object.hasOwn(COMMON, key) ? COMMON[key] : undefined;
};

/** Common words that begin so, each with the function that it means. */
export const commonWordsFrom = (begun: string): [word: string, name: string][] =>
  begun === '' ? [] : Object.entries(COMMON).filter(([word]) => word.startsWith(begun.toLowerCase()));

/** Common words that mean a function. */
export const commonWordsFor = (name: string): string[] =>
  Object.entries(COMMON).flatMap(([word, meant]) => (meant === name ? [word] : []));
