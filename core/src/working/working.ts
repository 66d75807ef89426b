import type { Stretch } from '../catalogue/functionEntry.js';
import type { Checked, CheckedCall } from '../formula/checker.js';
import type { Work } from '../formula/evaluate.js';
import type { Plan } from '../formula/plan.js';
import { factorOfBars, factorOfHalfLife } from '../averages/ema.js';
import { hurstPoints, type HurstMethod } from '../memory/hurst.js';
import { fitLine, type Line } from '../memory/leastSquares.js';
import { BLOCK_ROWS, boundsOf, type RowTimes } from '../windows/window.js';
import { NAIVE, naivePair, type Step } from './naive.js';

/** Rows of a working at most: a longer window shows its last ones. */
const MOST_ROWS = 400;
/** Steps of a recursion that are shown. */
const SHOWN_STEPS = 12;

/** How one value came about, so that it can be followed with a pocket calculator. */
export interface Working {
  /** In words: `mean of close over 20 bars`. */
  phrase: string;
  formula: string;
  /** The value as it is stored. */
  stored: number;
  /** The same worked out anew in the plainest way; undefined where that is the stored one itself. */
  recomputed: number | undefined;
  steps: Step[];
  /** The rows it is made of: their numbers, and what stands in each. */
  rows: { at: number[]; names: string[]; columns: number[][] };
  /** Points with a line through them, for what is a slope. */
  fit: { x: number[]; y: number[]; xName: string; yName: string; slope: number; intercept: number } | undefined;
}

/** The working of a plan's value at a row. */
export function workingOf(plan: Plan, work: Work, times: RowTimes, row: number): Working {
  const { tree } = plan;
  const stored = work.column(tree)[row];
  const none = { at: [], names: [], columns: [] };
  const base = {
    phrase: plan.phrase,
    formula: 'as it is written',
    stored,
    recomputed: undefined,
    steps: [],
    rows: none,
  };
  const shown = tree.kind === 'part' ? tree.call : tree;
  if (shown.kind === 'call') {
    const working = { ...base, formula: shown.entry.formula, fit: undefined, ...ofCall(shown, work, times, row) };
    // a part other than the first has its own value, not the one that the steps lead to
    return tree.kind === 'part' && tree.index > 0 ? { ...working, recomputed: undefined } : working;
  }
  return { ...base, steps: operandsOf(shown, work, row), fit: undefined };
}

/** What an operator was given. */
function operandsOf(tree: Checked, work: Work, row: number): Step[] {
  const given =
    tree.kind === 'binary'
      ? [tree.left, tree.right]
      : tree.kind === 'unary'
        ? [tree.operand]
        : tree.kind === 'window'
          ? [...tree.columns.values()]
          : [];
  return given.map((operand) => ({ says: operand.phrase, value: work.column(operand)[row] }));
}

type Told = Partial<Pick<Working, 'recomputed' | 'steps' | 'rows' | 'fit'>>;

function ofCall(call: CheckedCall, work: Work, times: RowTimes, row: number): Told {
  const { entry, settings, columns } = call;
  const inputs = columns.map((column) => work.column(column));
  const given = columns.map((column, index) => ({ says: column.phrase, value: inputs[index][row] }));
  if (call.each) return { steps: given };
  const { name } = entry;
  if (name === 'ema') return ofEma(call, inputs[0], times, row);
  if (name === 'hurst') return ofHurst(call, inputs[0], row);
  if (settings.back && name !== 'window') return ofMove(call, inputs[0], row);
  const window = settings.window;
  if (!window || (!(name in NAIVE) && inputs.length !== 2)) return { steps: given };
  const [first, end] = windowAt(call, times, row);
  const all = Array.from({ length: Math.max(0, end - first) }, (_, i) => first + i);
  const valid = all.filter((at) => inputs.every((column) => Number.isFinite(column[at])));
  const rows = {
    at: all.slice(-MOST_ROWS),
    names: columns.map(({ phrase }) => phrase),
    columns: inputs.map((column) => all.slice(-MOST_ROWS).map((at) => column[at])),
  };
  const divisor = settings.words.divisor === 'm' ? 'm' : 'm-1';
  const values = inputs.map((column) => valid.map((at) => column[at]));
  const steps =
    name in NAIVE
      ? NAIVE[name]({
          values: values[0],
          positions: valid.map((at) => at - (end - 1)),
          own: inputs[0][row],
          length: window.kind === 'bars' ? window.bars : end - first,
          numbers: settings.numbers,
          divisor,
        })
      : ['covariance', 'correlation', 'beta'].includes(name)
        ? naivePair(name, values[0], values[1], divisor)
        : given;
  const isWorkedOut = steps !== given && settings.words.against === undefined;
  return { rows, steps, recomputed: isWorkedOut ? steps.at(-1)?.value : undefined };
}

/** The rows of a call's window at a row, as [first, end). */
function windowAt({ settings }: CheckedCall, times: RowTimes, row: number): [number, number] {
  const bounds = boundsOf(settings.window!, times.time.length, times);
  const firsts = new Int32Array(BLOCK_ROWS);
  const ends = new Int32Array(BLOCK_ROWS);
  // windows are told in order of their rows
  for (let block = 0; ; block += BLOCK_ROWS) {
    const blockEnd = Math.min(times.time.length, block + BLOCK_ROWS);
    bounds.fill(block, blockEnd, firsts, ends);
    if (row < blockEnd) return [firsts[row - block], ends[row - block]];
  }
}

function ofMove({ entry, settings, columns }: CheckedCall, x: Float64Array, row: number): Told {
  const back = settings.back!;
  const rows = 'bars' in back ? back.bars * (entry.name === 'lead' ? -1 : 1) : undefined;
  if (rows === undefined) return { steps: [{ says: columns[0].phrase, value: x[row] }] };
  const base = x[row - rows];
  const steps = [
    { says: columns[0].phrase, value: x[row] },
    { says: `the same ${Math.abs(rows)} ${rows < 0 ? 'later' : 'before'}`, value: base },
  ];
  const results: Record<string, number> = {
    lag: base,
    lead: base,
    change: x[row] - base,
    return: x[row] / base - 1,
    logreturn: Math.log(x[row] / base),
  };
  const recomputed = entry.name in results ? (results[entry.name] ?? NaN) : undefined;
  return {
    steps,
    recomputed,
    rows: { at: [row - rows, row], names: [columns[0].phrase], columns: [[base, x[row]]] },
  };
}

/** The recursion from the beginning, of which the last steps are shown. */
function ofEma({ settings, columns }: CheckedCall, x: Float64Array, times: RowTimes, row: number): Told {
  const { window, numbers, words, stretches } = settings;
  const half = stretches.halflife as Stretch | undefined;
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
      { says: columns[0].phrase, value: x[row] },
      {
        says: words.start === 'weighted' ? 'weighed sum over the weights' : 'a x + (1 - a) times the average before',
        value: average,
      },
    ],
    recomputed: Number.isFinite(x[row]) ? average : undefined,
    rows: {
      at: tail(at),
      names: ['average before', columns[0].phrase, 'average'],
      columns: [tail(before), tail(values), tail(after)],
    },
  };
}

function ofHurst({ settings }: CheckedCall, x: Float64Array, row: number): Told {
  const bars = settings.window?.kind === 'bars' ? settings.window.bars : NaN;
  const from = row - bars + 1;
  if (!(from >= 0)) return {};
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
