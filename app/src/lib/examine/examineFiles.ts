import { WEEKDAYS } from '@jaunty-ledger/core';
import type { ToldExamination } from '$lib/api/examinations';
import type { Figures } from './lines';

/** A file of figures: its name, and its lines as CSV. */
export interface FiguresFile {
  says: string;
  name: string;
  text: string;
}

type Cell = string | number | null;

/** Quotes after RFC 4180; a missing figure is empty. */
const cellText = (cell: Cell): string => {
  if (cell === null) return '';
  const text = String(cell);
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
};

const csv = (head: readonly string[], rows: readonly (readonly Cell[])[]): string =>
  [head, ...rows].map((row) => row.map(cellText).join(',')).join('\n') + '\n';

/** All figures of an examination that pictures are made of, a file each. */
export function filesOf(told: ToldExamination): FiguresFile[] {
  const { time, before, after, every, memory, cycles, profile, season, histogram, verdicts } = told;
  const files: (FiguresFile | false | undefined)[] = [
    {
      says: every > 1 ? `the series, every ${every}th row` : 'the series',
      name: 'series',
      text: csv(
        ['time', 'before', 'after'],
        time.map((at, row) => [at, before[row], after[row]]),
      ),
    },
    memory && {
      says: 'its memory',
      name: 'memory',
      text: csv(
        ['lag', 'acf', 'pacf', 'acf_of_squares', 'pacf_of_squares'],
        memory.values.acf.map((acf, lag) => [
          lag,
          acf,
          memory.values.pacf[lag],
          memory.squares.acf[lag] ?? null,
          memory.squares.pacf[lag] ?? null,
        ]),
      ),
    },
    {
      says: 'counts of its values',
      name: 'histogram',
      text: csv(
        ['from', 'to', 'count'],
        histogram.counts.map((count, bin) => [histogram.edges[bin], histogram.edges[bin + 1], count]),
      ),
    },
    cycles.peaks.length > 0 && {
      says: 'its cycles',
      name: 'cycles',
      text: csv(
        ['swings', 'rows', 'power', 'share', 'p'],
        cycles.peaks.map(({ j, period, power, share, p }) => [j, period, power, share, p]),
      ),
    },
    profile && {
      says: `by ${profile.by}`,
      name: profile.by,
      text: csv(
        [profile.by, 'count', 'mean', 'lower_quartile', 'median', 'upper_quartile'],
        profile.groups.map(({ group, count, mean, quartiles }) => [
          profile.by === 'weekday' ? WEEKDAYS[group] : group,
          count,
          mean,
          ...quartiles,
        ]),
      ),
    },
    season && {
      says: 'its season',
      name: 'season',
      text: csv(
        ['position', 'shape'],
        season.shape.map((shape, position): Cell[] => [position, shape]),
      ),
    },
    {
      says: 'verdicts',
      name: 'verdicts',
      text: csv(
        ['question', 'answer', 'says', 'figures'],
        verdicts.map(({ asks, answer, says, figures }) => [asks, answer, says, figures]),
      ),
    },
  ];
  return files.filter((file) => file !== undefined && file !== false);
}

/** What of a style a picture needs to look the same elsewhere. */
const LOOKS = ['fill', 'stroke', 'stroke-width', 'stroke-dasharray', 'font-size', 'font-style', 'font-family'] as const;

/** A picture of the page as a file of its own: what its styles say is written into it. */
export function pictureText(picture: SVGSVGElement): string {
  const copy = picture.cloneNode(true) as SVGSVGElement;
  const parts = [...picture.querySelectorAll('*')];
  [...copy.querySelectorAll('*')].forEach((part, at) => {
    const style = getComputedStyle(parts[at]);
    for (const name of LOOKS) part.setAttribute(name, style.getPropertyValue(name));
    part.removeAttribute('class');
  });
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  copy.setAttribute('style', `background: ${getComputedStyle(document.body).backgroundColor}`);
  return new XMLSerializer().serializeToString(copy);
}

/** Points of a normal plot: where a normal variable would have each value, and the value. */
export const normalPoints = ({ quantiles, values }: { quantiles: Figures; values: Figures }): [number, number][] =>
  quantiles.flatMap((quantile, at): [number, number][] => {
    const value = values[at];
    return quantile === null || value === null ? [] : [[quantile, value]];
  });
