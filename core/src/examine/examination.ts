import { ArgumentError } from '../arguments.js';
import { autocorrelation, type Autocorrelation } from '../memory/autocorrelation.js';
import type { Calendar } from '../time/calendar.js';
import { cycles, type Cycles } from './cycles.js';
import { profile, type ProfileBy, type ProfileGroup } from './profile.js';
import { seasonalShape, type SeasonalShape } from './seasonalShape.js';
import { normalPlot, summary, type Summary } from './summary.js';
import { treated, type Treatment } from './treatments.js';
import { isConstant, validOf } from './valid.js';
import { MOST_SHUFFLES, verdictsOn, type Verdict } from './verdicts.js';

/** All that is told of one column. What cannot be told for want of values is left out; `needs` says of each why. */
export interface Examination {
  /** The column after its treatments, as long as before. */
  values: Float64Array;
  summary: Summary;
  normal: { quantiles: Float64Array; values: Float64Array };
  memory: { values: Autocorrelation; squares: Autocorrelation } | undefined;
  cycles: Cycles;
  season: SeasonalShape | undefined;
  profile: { by: ProfileBy; groups: ProfileGroup[] } | undefined;
  verdicts: Verdict[];
}

export interface ExaminationChoices {
  treatments: readonly Treatment[];
  /** The most lags of the memory; fewer where there are fewer values. */
  lags: number;
  /** Rows of a cycle that the column is taken apart by. */
  season?: number;
  /** What of the calendar rows are put together by, and microseconds of a slot. */
  profile?: { by: ProfileBy; interval?: number };
  /** Whether its values are changes already, as returns are, whose memory and variance are asked of as they stand. */
  isOfChanges?: boolean;
  /** Shuffled copies that memory is held against, and their seed; without copies it is held against the error of H. */
  shuffles?: number;
  seed?: number;
  /** Called between its parts; it may throw to stop. */
  goOn?: () => void;
}

/** The most rows that are examined at once: transforms of more take more memory than a server has to spare. */
export const MOST_EXAMINED_ROWS = 2_000_000;

/**
 * Examines one column.
 * @param time  instants of its rows
 * @param x     its values, of any unit
 * @see definitions, section 10
 */
export function examine(
  time: Float64Array,
  x: Float64Array,
  calendar: Calendar,
  {
    treatments,
    lags,
    season,
    profile: by,
    isOfChanges = false,
    shuffles = MOST_SHUFFLES,
    seed = 1,
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
  const changes = areChanges ? values : values.map((value, row) => (row === 0 ? NaN : value - values[row - 1]));
  const part = <T>(work: () => T): T => {
    goOn();
    return work();
  };
  const foundSummary = part(() => summary(values));
  const foundCycles = part(() => cycles(values));
  const examined = { x: values, summary: foundSummary, cycles: foundCycles, changes, areChanges };
  return {
    values,
    summary: foundSummary,
    normal: part(() => normalPlot(values)),
    memory: hasMemory
      ? part(() => ({ values: autocorrelation(values, most), squares: autocorrelation(squares, most) }))
      : undefined,
    cycles: foundCycles,
    season: season !== undefined && valid.length >= 2 * season ? part(() => seasonalShape(values, season)) : undefined,
    profile: by && { by: by.by, groups: part(() => profile(time, values, calendar, by.by, by.interval)) },
    verdicts: verdictsOn(examined, { shuffles, seed, goOn }),
  };
}
