/** A form that a model is written in. */
interface ModelForm {
  /** An example of it. */
  text: string;
  /** What it does, in a sentence. */
  says: string;
  /** Further words that it is looked for by. */
  words: readonly string[];
}

/** The forms of models, the simplest first, for those who write one. `of log` behind any takes the logarithm. */
export const MODEL_FORMS: readonly ModelForm[] = [
  { text: 'last', says: 'The last value. The baseline of backtests.', words: ['naive', 'random walk', 'persistence'] },
  { text: 'last season 7', says: 'The values of the last season again, here of 7 bars.', words: ['seasonal naive'] },
  { text: 'mean 20', says: 'The mean of the last 20 bars; `mean` takes all.', words: ['average', 'historical mean'] },
  { text: 'drift', says: 'The last value plus the mean change of all bars.', words: ['random walk with drift'] },
  {
    text: 'trend 60',
    says: 'A straight line through the last 60 bars; `trend` takes all.',
    words: ['linear trend', 'regression'],
  },
  {
    text: 'growth 12',
    says: 'The growth rate over the last 12 bars, compounded; `growth` takes all.',
    words: ['cagr', 'compound annual growth rate', 'exponential growth'],
  },
  {
    text: 'average 20',
    says: 'A moving average of 20 bars, continued over its own output.',
    words: ['moving average'],
  },
  {
    text: 'ema 0.3',
    says: 'An exponential average with weight 0.3 for the newest value; `ema` estimates it.',
    words: ['exponential smoothing', 'simple exponential smoothing', 'alpha'],
  },
  {
    text: 'smooth season 12',
    says: 'Exponential smoothing with level, trend and season, the kind chosen by AICc; `smooth` without a season, `smooth season` with that of the strongest cycle.',
    words: ['seasonal', 'holt winters', 'ets', 'triple exponential smoothing', 'automatic'],
  },
  {
    text: 'smooth damped trend',
    says: 'Exponential smoothing with a trend that flattens; `smooth trend` keeps it, `smooth level` has none.',
    words: ['holt', 'double exponential smoothing', 'damped'],
  },
  {
    text: 'smooth trend season 12 multiplied',
    says: 'Exponential smoothing with a trend and a season that grows with the level.',
    words: ['seasonal', 'holt winters', 'multiplicative'],
  },
  {
    text: 'croston',
    says: 'The mean rate of counts that are mostly 0; `at least 0` behind any model sets a floor.',
    words: ['intermittent demand', 'counts', 'zeros', 'floor'],
  },
  {
    text: 'garch',
    says: 'The last value; the interval follows volatility by GARCH(1, 1).',
    words: ['volatility', 'variance'],
  },
  {
    text: 'ewma 0.94',
    says: 'The last value; the interval follows an exponential average of squared returns.',
    words: ['volatility', 'exponentially weighted variance'],
  },
  {
    text: 'arima',
    says: 'An ARIMA whose orders are chosen by AICc; `arima season 12` with a season.',
    words: ['automatic arima', 'sarima', 'box jenkins', 'order selection'],
  },
  {
    text: 'arima(1, 1, 1)',
    says: 'An ARIMA of orders p, d, q; `arima(1, 1, 1)(0, 1, 1) season 12` with a season.',
    words: ['autoregressive', 'ar', 'ma', 'arma', 'sarima', 'lags'],
  },
];
