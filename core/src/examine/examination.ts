import { ArgumentError } from '../arguments.js';
import { autocorrelation, type Autocorrelation } from '../memory/autocorrelation.js';
import { cycles, type Cycles } from './cycles.js';
import { groupSummaries, type GroupSummary } from './groups.js';
import { hurstViews, type HurstView } from './hurstViews.js';
import { seasonalShape, type SeasonalShape } from './seasonalShape.js';
import { normalPlot, summary, type Summary } from './summary.js';
import { treated, type Treatment } from './treatments.js';
import { distances, turningPoints, type TurningPoints } from './turningPoints.js';
import { isConstant, validOf } from '../numeric/deviations.js';
import { FEWEST_SWINGS, MOST_SHUFFLES, verdictsOn, type Verdict } from './verdicts.js';

/** All that is told of one column. What cannot be told for want of values is left out; `needs` says of each why. */
export interface Examination {
  /** The column after its treatments, as long as before. */
  values: Float64Array;
  summary: Summary;
  normal: { quantiles: Float64Array; values: Float64Array };
  memory: { values: Autocorrelation; squares: Autocorrelation } | undefined;
  cycles: Cycles;
  season: SeasonalShape | undefined;
  /** Its rows in groups, where some were given. */
  groups: GroupSummary[] | undefined;
  /** Where it turns, looked for over so many rows on either side. */
  turns: TurningPoints & { rows: number; topsApart: Float64Array; bottomsApart: Float64Array };
  /** Nothing where it is too short. */
  hurst: HurstView[];
  /** What the changes are that verdicts are on, and whether they could be log returns. */
  changes: { kind: ChangesKind; canBeLogs: boolean };
  verdicts: Verdict[];
}

export const CHANGES = ['auto', 'raw', 'log'] as const;
export type ChangesChoice = (typeof CHANGES)[number];
/** What the changes are that verdicts are on: the values themselves, their differences, or their log returns. */
export type ChangesKind = 'own' | 'raw' | 'log';

/** By less than this factor, differences and log returns say the same. */
const LOG_FACTOR = 1.5;

export interface ExaminationChoices {
  treatments: readonly Treatment[];
  /** The most lags of the memory; fewer where there are fewer values. */
  lags: number;
  /** Rows of a cycle that the column is taken apart by. */
  season?: number;
  /** The group of each row, by calendar or by its words; rows without a number belong to none. */
  groups?: ArrayLike<number>;
  /** Rows on either side of a turning point; a third of its strongest cycle, or of the order of its length, without. */
  turns?: number;
  /** Whether its values are changes already, as returns are, whose memory and variance are asked of as they stand. */
  isOfChanges?: boolean;
  /**
   * Which changes of a column of levels are asked about: `raw` differences, or `log` returns. By `auto` those suit it: log
   * returns where all its values are above 0 and the greatest is more than 1.5 times the least.
   */
  changes?: ChangesChoice;
  /** Shuffled copies that memory is held against, and their seed; without copies it is held against the error of H. */
  shuffles?: number;
  seed?: number;
  /** Points of the normal plot, where fewer than there are values are enough. */
  normalPoints?: number;
  /** Called between its parts with the share that is done, 0 to 1; it may throw to stop. */
  goOn?: (share: number) => void;
}

/** The most rows that are examined at once: transforms of more take more memory than a server has to spare. */
export const MOST_EXAMINED_ROWS = 2_000_000;

/**
 * Examines one column.
 * @param x  its values, of any unit
 * @throws {ArgumentError} for more rows than `MOST_EXAMINED_ROWS`
 * @see definitions, section 10
 */
export function examine(
  x: Float64Array,
  {
    treatments,
    lags,
    season,
    groups,
    turns: besideTurns,
    isOfChanges = false,
    changes: wanted = 'auto',
    shuffles = MOST_SHUFFLES,
    seed = 1,
    normalPoints = Infinity,
    goOn = () => undefined,
  }: ExaminationChoices,
): Examination {
  if (x.length > MOST_EXAMINED_ROWS)
    throw new ArgumentError(
      'rows',
      `at most ${MOST_EXAMINED_ROWS.toLocaleString('en')}`,
      x.length.toLocaleString('en'),
    );
  const values = treated(x, treatments);
  const valid = validOf(values);
  const most = Math.min(lags, valid.length - 1);
  const hasMemory = most >= 1 && !isConstant(valid);
  // their scale has no say in a correlation, and their squares might be too large to be numbers
  const scale = valid.reduce((most, value) => Math.max(most, Math.abs(value)), 0) || 1;
  const squares = valid.map((value) => (value / scale) ** 2);
  const areChanges = isOfChanges || treatments.some(({ kind }) => kind === 'change');
  const kind: ChangesKind = areChanges ? 'own' : changesKind(valid, treatments, wanted);
  const levels = kind === 'log' ? values.map(Math.log) : values;
  const changes = areChanges ? values : levels.map((value, row) => (row === 0 ? NaN : value - levels[row - 1]));
  /** @param share  done before it, as it is of very long columns */
  const part = <T>(share: number, work: () => T): T => {
    goOn(share);
    return work();
  };
  const foundSummary = part(0, () => summary(values));
  const foundCycles = part(0.02, () => cycles(values));
  const hurst = part(0.1, () => hurstViews(changes, shuffles, seed, (share) => goOn(0.1 + 0.25 * share)));
  const examined = { x: values, summary: foundSummary, cycles: foundCycles, hurst, shuffles, changes, kind };
  const rows = besideTurns ?? usualTurns(values.length, foundCycles);
  return {
    values,
    summary: foundSummary,
    normal: part(0.35, () => normalPlot(values, normalPoints)),
    memory: hasMemory
      ? part(0.37, () => ({ values: autocorrelation(values, most), squares: autocorrelation(squares, most) }))
      : undefined,
    cycles: foundCycles,
    season:
      season !== undefined && valid.length >= 2 * season ? part(0.4, () => seasonalShape(values, season)) : undefined,
    groups: groups && part(0.42, () => groupSummaries(values, groups)),
    turns: part(0.44, () => {
      const found = turningPoints(values, rows);
      return { rows, ...found, topsApart: distances(found.tops), bottomsApart: distances(found.bottoms) };
    }),
    hurst,
    changes: { kind, canBeLogs: !areChanges && isPositive(valid) && treatments.length === 0 },
    verdicts: verdictsOn(examined, (share) => goOn(0.46 + 0.54 * share)),
  };
}

/** Far enough to either side that turns of the strongest cycle are found and not each swing within it. */
function usualTurns(rows: number, { peaks }: Cycles): number {
  const [strongest] = peaks;
  const isSure = strongest && strongest.j >= FEWEST_SWINGS && strongest.p < 0.05 && strongest.share > 0.05;
  return Math.max(1, Math.round(isSure ? strongest.period / 3 : rows / 40));
}

const isPositive = (valid: Float64Array): boolean => valid.length > 0 && valid.every((value) => value > 0);

/** Which changes of levels are asked about. Treated columns are taken as they are. */
function changesKind(valid: Float64Array, treatments: readonly Treatment[], wanted: ChangesChoice): 'raw' | 'log' {
  if (wanted === 'raw' || treatments.length > 0 || !isPositive(valid)) return 'raw';
  if (wanted === 'log') return 'log';
  let [min, max] = [Infinity, 0];
  for (const value of valid) {
    min = Math.min(min, value);
    max = Math.max(max, value);
  }
  return max > LOG_FACTOR * min ? 'log' : 'raw';
}
