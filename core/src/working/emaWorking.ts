import { factorOfBars, factorOfHalfLife } from '../averages/ema.js';
import type { CallAtRow, CallWorking, Lookback } from '../catalogue/functionEntry.js';

/** Steps of a recursion that are shown. */
const SHOWN_STEPS = 12;

/** The recursion from the beginning, of which the last steps are shown. */
export function emaWorking({ settings, columns: [x], phrases, times, row }: CallAtRow): CallWorking {
  const { window, numbers, words, stretches } = settings;
  const half = stretches.halflife as Lookback | undefined;
  const isByTime = half !== undefined && 'micros' in half;
  const bars = window?.kind === 'bars' ? window.bars : undefined;
  const factor =
    bars !== undefined
      ? factorOfBars(bars)
      : (numbers.factor ?? (half && 'bars' in half ? factorOfHalfLife(half.bars) : NaN));
  const seed = words.start === 'mean' ? (bars ?? 1) : 1;
  const at: number[] = [];
  const [before, values, after]: number[][] = [[], [], []];
  let average = NaN;
  let sum = 0;
  let weights = 0;
  let valid = 0;
  let last = NaN;
  for (let t = 0; t <= row; t++) {
    if (!Number.isFinite(x[t])) continue;
    valid++;
    const kept = isByTime ? 2 ** ((last - times.time[t]) / half.micros) : 1 - factor;
    const previous = average;
    if (words.start === 'weighted') {
      sum = x[t] + (valid > 1 ? kept : 0) * sum;
      weights = 1 + (valid > 1 ? kept : 0) * weights;
      average = sum / weights;
    } else if (valid <= seed) {
      sum += x[t];
      average = sum / valid;
    } else average = (1 - kept) * x[t] + kept * previous;
    last = times.time[t];
    at.push(t);
    before.push(previous);
    values.push(x[t]);
    after.push(average);
  }
  const tail = <T>(list: T[]) => list.slice(-SHOWN_STEPS);
  return {
    steps: [
      {
        says: isByTime ? 'half-life in minutes' : 'a, the weight of the newest value',
        value: isByTime ? half.micros / 60e6 : factor,
      },
      { says: 'the average before', value: before.at(-1) ?? NaN },
      { says: phrases[0], value: x[row] },
      {
        says: words.start === 'weighted' ? 'weighed sum over the weights' : 'a x + (1 - a) times the average before',
        value: average,
      },
    ],
    recomputed: Number.isFinite(x[row]) ? average : undefined,
    rows: {
      at: tail(at),
      names: ['average before', phrases[0], 'average'],
      columns: [tail(before), tail(values), tail(after)],
    },
  };
}
