import type { ToldExamination } from '$lib/works/examination/work';
import type { Cell, FigureTable } from '$lib/pages/figureFiles';

/** Figures of one part of an examination; a file of them has its name. */
export interface FiguresFile extends FigureTable {
  name: FileName;
}
export type FileName =
  'series' | 'memory' | 'histogram' | 'hurst' | 'cycles' | 'turns' | 'groups' | 'season' | 'verdicts';

/** All figures of an examination that pictures are made of. */
export function filesOf(told: ToldExamination): FiguresFile[] {
  const { time, before, after, every, memory, cycles, groups, season, histogram, hurst, turns, verdicts } = told;
  const kinds = [
    ['top', turns.tops.rows],
    ['bottom', turns.bottoms.rows],
  ] as const;
  const turning = kinds.flatMap(([kind, rows]) => rows.map((row) => ({ kind, row }))).sort((a, b) => a.row - b.row);
  const pointOf = (row: number) => Math.min(time.length - 1, Math.floor(row / every));
  const files: (FiguresFile | false | undefined)[] = [
    {
      says: every > 1 ? `the series, a point every ${every} rows` : 'the series',
      name: 'series',
      head: ['time', 'before', 'after'],
      rows: time.map((at, row) => [at, before[row], after[row]]),
    },
    turning.length > 0 && {
      says: 'turning points',
      name: 'turns',
      head: ['row', 'time', 'kind', 'rows_since_the_last_of_its_kind'],
      rows: turning.map(({ kind, row }, at): Cell[] => {
        const before = turning.slice(0, at).findLast((one) => one.kind === kind);
        return [row, time[pointOf(row)], kind, before ? row - before.row : null];
      }),
    },
    memory && {
      says: 'its memory',
      name: 'memory',
      head: ['lag', 'acf', 'pacf', 'acf_of_squares', 'pacf_of_squares'],
      rows: memory.values.acf.map((acf, lag) => [
        lag,
        acf,
        memory.values.pacf[lag],
        memory.squares.acf[lag] ?? null,
        memory.squares.pacf[lag] ?? null,
      ]),
    },
    {
      says: 'counts of its values',
      name: 'histogram',
      head: ['from', 'to', 'count'],
      rows: histogram.counts.map((count, bin) => [histogram.edges[bin], histogram.edges[bin + 1], count]),
    },
    hurst.length > 0 && {
      says: 'spread by length',
      name: 'hurst',
      head: ['by', 'log_length', 'log_spread', 'shuffled_low', 'shuffled_high'],
      rows: hurst.flatMap(({ by, logSizes, logSpreads, copies }) =>
        logSizes.map((size, at): Cell[] => [by, size, logSpreads[at], copies.lowSpreads[at], copies.highSpreads[at]]),
      ),
    },
    cycles.peaks.length > 0 && {
      says: 'its cycles',
      name: 'cycles',
      head: ['swings', 'rows', 'power', 'share', 'p'],
      rows: cycles.peaks.map(({ j, period, power, share, p }) => [j, period, power, share, p]),
    },
    groups && {
      says: `by ${groups.by}`,
      name: 'groups',
      head: [
        ...[groups.by, 'count', 'missing', 'zeros', 'mean', 'stdev'],
        ...['min', 'lower_quartile', 'median', 'upper_quartile', 'max'],
      ],
      rows: groups.list.map(({ name, count, missing, zeros, mean, stdev, min, quartiles, max }) => [
        ...[name, count, missing, zeros, mean, stdev],
        ...[min, ...quartiles, max],
      ]),
    },
    season && {
      says: 'its season',
      name: 'season',
      head: ['position', 'shape'],
      rows: season.shape.map((shape, position): Cell[] => [position, shape]),
    },
    {
      says: 'verdicts',
      name: 'verdicts',
      head: ['question', 'answer', 'says', 'figures'],
      rows: verdicts.map(({ asks, answer, says, figures }) => [asks, answer, says, figures]),
    },
  ];
  return files.filter((file) => file !== undefined && file !== false);
}
