import type { CallAtRow, CallWorking } from '../catalogue/functionEntry.js';
import { hurstPoints, type HurstMethod } from '../memory/hurst.js';
import { fitLine, type Line } from '../memory/leastSquares.js';

/** The sizes and spreads of the window's returns, and the line through their logarithms. */
export function hurstWorking({ settings, columns: [x], row }: CallAtRow): CallWorking {
  const bars = settings.window?.kind === 'bars' ? settings.window.bars : NaN;
  const from = row - bars + 1;
  if (!(from >= 0)) return { steps: [] };
  const by = (settings.words.by ?? 'dfa') as HurstMethod;
  const { logSizes, logSpreads } = hurstPoints(x.slice(from, row + 1), by);
  const line: Line = { slope: NaN, error: NaN, rsquared: NaN };
  fitLine(logSizes, logSpreads, logSizes.length, line);
  const mean = (values: Float64Array) => values.reduce((sum, value) => sum + value, 0) / values.length;
  const intercept = mean(logSpreads) - line.slope * mean(logSizes);
  const exponent = (by === 'rs' ? 0.5 : 0) + (by === 'variance' ? 0.5 : 1) * line.slope;
  return {
    recomputed: exponent,
    steps: [
      { says: 'returns in the window', value: bars },
      { says: 'sizes that can be used', value: logSizes.length },
      { says: 'slope of the fitted line', value: line.slope },
      { says: by === 'rs' ? '0.5 + slope' : by === 'variance' ? 'half the slope' : 'H, the slope', value: exponent },
      { says: 'R squared of the fit', value: line.rsquared },
    ],
    fit: {
      x: [...logSizes],
      y: [...logSpreads],
      xName: by === 'variance' ? 'ln lag' : 'ln box size',
      yName: by === 'rs' ? 'ln (R/S) less what chance gives' : by === 'dfa' ? 'ln fluctuation' : 'ln mean square move',
      slope: line.slope,
      intercept,
    },
  };
}
