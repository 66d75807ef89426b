import {
  ArgumentError,
  BAR_COLUMNS,
  barsBetween,
  examine,
  evaluate,
  frameOf,
  isTimed,
  MOST_EXAMINED_ROWS,
  makeCalendar,
  namesOf,
  parseBarRule,
  parseTreatment,
  planEntries,
  rfc3339,
  treatmentText,
  type Examination,
  type ProfileBy,
} from '@jaunty-ledger/core';
import type { ToldExamination } from '$lib/api/examinations';
import { refuse } from '$lib/api/problems';
import { calendarOptions } from '$lib/api/tapes';
import type { StoredTape } from '../store/tapes';
import { otherFrames } from './otherFrames';
import type { Range } from './range';
import type { TaskKind } from './taskKind';

interface ExaminationInput {
  tape: StoredTape;
  rule: string;
  flagged: boolean;
  entry: string;
  entries: string[];
  stretch: Range | undefined;
  treatments: string[];
  lags: number;
  season: number | undefined;
  profile: ProfileBy | undefined;
  shuffles: number;
  seed: number;
}

/** Points of a line that are given: more than a page has pixels across. */
const MOST_POINTS = 3000;
/** Points of the normal plot and of the powers. */
const MOST_MARKS = 400;

/** What one column of bars is like, as JSON. */
export const examination: TaskKind<ExaminationInput> = {
  // several regressions, and memory held against many copies
  records: ({ tape, shuffles }) => tape.rows * (10 + shuffles / 10),
  run: async (input, tools) => {
    const { tape, entry, entries, stretch, lags, season, shuffles, seed } = input;
    const { bars: all, rule } = await tools.bars.of(tape, input, tools.course);
    const bars = stretch ? barsBetween(all, stretch.from, stretch.to).bars : all;
    if (bars.time.length > MOST_EXAMINED_ROWS)
      throw refuse(
        'too-many-bars',
        `${bars.time.length.toLocaleString('en')} bars are more than the ${MOST_EXAMINED_ROWS.toLocaleString('en')} that are examined at once. Choose longer bars, or a shorter stretch.`,
      );
    if (input.profile && tape.precision === 'period')
      throw refuse(
        'invalid-body',
        `${tape.name} has numbered periods without dates, so there is no calendar to group by.`,
      );
    const calendar = makeCalendar(calendarOptions(tape));
    // an entry cannot have the name of a column, but a column can be examined
    const isColumn = [...BAR_COLUMNS, ...tape.numbers.map(({ name }) => name)].includes(entry.trim());
    const texts = [...entries, isColumn ? `examined_column = ${entry}` : entry];
    const others = await otherFrames({ ...input, entries: texts }, tools);
    const words = new Map(tape.texts.map((text) => [text.name, text.words]));
    const frame = frameOf(bars, calendar, { rule, others, tape: tape.name, words });
    const plans = planEntries(texts, namesOf(frame)).filter(({ entryIndex }) => entryIndex === entries.length);
    if (plans.length > 1)
      throw refuse('invalid-formula', `\`${entry}\` is a fan of ${plans.length} lines; examine one of them.`);
    const [{ name, phrase, unit }] = plans;
    const column = evaluate(texts, frame, { progress: tools.course.goOn }).find((one) => one.name === name)!;
    try {
      const treatments = input.treatments.map(parseTreatment);
      const { kind } = parseBarRule(rule);
      const interval = isTimed(kind) && kind.by === 'interval' ? kind.micros : undefined;
      if (input.profile === 'slot' && interval === undefined)
        throw refuse('invalid-body', 'Slots of a session are those of bars by the clock; choose another grouping.');
      const found = examine(frame.time, column.values, calendar, {
        treatments,
        lags,
        season,
        isOfChanges: unit === 'fraction' || unit === 'move',
        shuffles,
        seed,
        goOn: tools.course.goOn,
        profile: input.profile && { by: input.profile, interval },
      });
      const told = toldOf(found, frame.time, column.values);
      const about = { tape: tape.name, rule, phrase, treatments: treatments.map(treatmentText) };
      return new TextEncoder().encode(JSON.stringify({ ...about, ...told } satisfies ToldExamination));
    } catch (error) {
      if (!(error instanceof ArgumentError)) throw error;
      throw refuse('invalid-body', error.message, {}, { cause: error });
    }
  },
};

/** JSON has no NaN. */
const figure = (value: number): number | null => (Number.isFinite(value) ? value : null);
const figures = (values: ArrayLike<number>): (number | null)[] => Array.from(values, figure);

/** Every so many of some values. */
const everyOf = (values: Float64Array, every: number): Float64Array => values.filter((_, row) => row % every === 0);

function toldOf(
  { values, summary, normal, memory, cycles, season, profile, verdicts }: Examination,
  time: Float64Array,
  before: Float64Array,
): Omit<ToldExamination, 'tape' | 'rule' | 'phrase' | 'treatments'> {
  const every = Math.max(1, Math.ceil(time.length / MOST_POINTS));
  const drawn = (column: Float64Array) => figures(everyOf(column, every));
  const { jarqueBera: _, histogram, quartiles, count, missing, ...rest } = summary;
  const marks = Math.max(1, Math.ceil(normal.values.length / MOST_MARKS));
  const together = Math.max(1, Math.ceil(cycles.power.length / MOST_MARKS));
  const correlations = ({ acf, pacf, band, count: valid }: NonNullable<typeof memory>['values']) => ({
    acf: figures(acf),
    pacf: figures(pacf),
    band: figure(band),
    count: valid,
  });
  return {
    rows: time.length,
    every,
    time: Array.from(everyOf(time, every), rfc3339),
    before: drawn(before),
    after: drawn(values),
    summary: {
      ...(Object.fromEntries(Object.entries(rest).map(([name, value]) => [name, figure(value)])) as Record<
        keyof typeof rest,
        number | null
      >),
      count,
      missing,
      quartiles: figures(quartiles),
      zeros: values.filter((value) => value === 0).length,
    },
    histogram: { edges: figures(histogram.edges), counts: figures(histogram.counts) },
    normal: {
      quantiles: figures(everyOf(normal.quantiles, marks)),
      values: figures(everyOf(normal.values, marks)),
    },
    ...(memory && { memory: { values: correlations(memory.values), squares: correlations(memory.squares) } }),
    cycles: {
      count: cycles.count,
      filled: cycles.filled,
      power: Array.from({ length: Math.ceil(cycles.power.length / together) }, (_, at) =>
        figure(cycles.power.subarray(at * together, (at + 1) * together).reduce((most, one) => Math.max(most, one), 0)),
      ),
      together,
      peaks: cycles.peaks.map((peak) => ({ ...peak, p: figure(peak.p) })),
    },
    ...(season && {
      season: {
        shape: figures(season.shape),
        trend: drawn(season.trend),
        remainder: drawn(season.remainder),
        strength: { season: figure(season.strength.season), trend: figure(season.strength.trend) },
      },
    }),
    ...(profile && {
      profile: {
        by: profile.by,
        groups: profile.groups.map((group) => ({
          ...group,
          mean: figure(group.mean),
          quartiles: figures(group.quartiles),
        })),
      },
    }),
    verdicts: verdicts.map((verdict) => ({
      ...verdict,
      working: verdict.working.map(({ says, value }) => ({ says, value: figure(value) })),
    })),
  };
}
