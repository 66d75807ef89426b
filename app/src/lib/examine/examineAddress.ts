import { numbersIn, splitEntry, MOST_SEASON } from '@jaunty-ledger/core';
import type { ExaminationBody } from '$lib/works/examination/work';
import { ExamineBody } from '$lib/api/pages';
import { pageAddress } from '$lib/pages/address';

export type Examined = ExamineBody;

/** The entries that one uses, and those that they use, by the names that stand in them. */
export function usesOf(entry: string, others: readonly string[]): string[] {
  const used = new Set<string>();
  const waiting = [entry];
  for (let text = waiting.pop(); text !== undefined; text = waiting.pop()) {
    const words = new Set(text.match(/[A-Za-z_]\w*/g));
    for (const other of others) {
      if (other === entry || used.has(other) || !words.has(splitEntry(other).name)) continue;
      used.add(other);
      waiting.push(other);
    }
  }
  return others.filter((other) => used.has(other));
}

const ADDRESS = pageAddress(
  '/examine',
  ExamineBody,
  { page: 'examine', tape: 'A', bars: '1 day', entry: 'close' },
  { names: { treatments: 'taken' } },
);

/** What an address asks for; of what it does not say, or says wrongly, what suits the tape. */
export const examinedOf = (
  address: URLSearchParams,
  usual: Pick<Examined, 'tape' | 'bars'> & { entry?: string },
): Examined => ADDRESS.read(address, usual);

/** The other way round. @param kept  the number that the page is kept under */
export const addressOf = ADDRESS.write;

export const EXAMINE = { page: 'examine', addressOf } as const;

/** What is examined beside it, as a question of its own; nothing where there is none. */
export function besideOf(examined: Examined, bars: string): Examined | undefined {
  const { beside, besideEntry } = examined;
  if (!beside) return undefined;
  // groups by words are those of a tape's own columns
  return { ...examined, tape: beside, bars, words: '', ...(besideEntry && { entry: besideEntry, uses: [] }) };
}

/** What is examined as a formula of a ledger: the entry, treated. */
export function formulaOf({ entry, treatments }: Pick<Examined, 'entry' | 'treatments'>): string {
  return treatments.reduce((inner, treatment) => {
    const [, kind, rows = ''] = /^(log|change|relative change|detrended|less season)\s*(\d*)$/.exec(treatment) ?? [];
    if (kind === 'less season') return `(${inner}) - season(${inner}, ${rows})`;
    const name = kind === 'relative change' ? 'return' : kind;
    return rows ? `${name}(${inner}, ${rows})` : `${name}(${inner})`;
  }, splitEntry(entry).formula);
}

/** The question to the server. */
export const bodyOf = (
  { tape, bars, entry, uses, from, to, treatments, lags, season, profile, words, turns, changes }: Examined,
  shuffles: number,
): ExaminationBody => ({
  tape,
  bars,
  entry,
  entries: uses,
  ...((from || to) && { stretch: { ...(from && { from }), ...(to && { to }) } }),
  treatments,
  lags,
  ...(season !== null && { season }),
  ...(words ? { words } : profile && { profile }),
  ...(turns !== null && { turns }),
  shuffles,
  seed: 1,
  changes,
});

/**
 * Where the column is projected by a model that fits what was found: where it needs further differences by an arima whose orders
 * are chosen, since lags of values that wander say nothing of a model; else by an autoregression of some lags. It is of the entry itself where only its logarithm and its
 * changes were taken, which a model takes back, else of the treated column.
 */
export function projectAddress(
  examined: Examined,
  { lags, differences, isOfLogs }: { lags: readonly number[]; differences: number; isOfLogs: boolean },
): string {
  const { tape, bars, uses, treatments } = examined;
  const changes = treatments.filter((one) => one === 'change').length;
  const isOfLog = treatments[0] === 'log';
  const isTakenBack = changes <= 2 && changes + (isOfLog ? 1 : 0) === treatments.length;
  const order = Math.max(...lags);
  const gaps = lags.length < order ? ` lags ${lags.join(' ')}` : '';
  const behind = isTakenBack && (isOfLog || (differences > 0 && isOfLogs)) ? ' of log' : '';
  const { season: rows } = examined;
  const season = rows !== null && rows > 1 && rows <= MOST_SEASON ? ` season ${rows}` : '';
  const model =
    differences > 0 ? `arima${season}${behind}` : `arima(${order}, ${isTakenBack ? changes : 0}, 0)${gaps}${behind}`;
  const entry = isTakenBack ? splitEntry(examined.entry).formula : formulaOf(examined);
  const address = new URLSearchParams({ tape, bars, entry });
  for (const use of uses) address.append('uses', use);
  for (const one of ['last', model]) address.append('model', one);
  address.set('focus', '1');
  if (examined.from) address.set('from', examined.from);
  if (examined.to) address.set('to', examined.to);
  return `/project?${address}`;
}

/** Functions that put the values of a window together, so that what is shorter than the window is evened out. */
const SMOOTHING = /\b(?:mean|ema|wma|sum|median|quantile|window)\s*\(/;

/** The longest window, in bars, that an entry and those it uses smooth over; nothing where they do not. */
export function smoothedOver({ entry, uses }: Pick<Examined, 'entry' | 'uses'>): number | undefined {
  const windows = [entry, ...uses]
    .filter((text) => SMOOTHING.test(text))
    .flatMap((text) => numbersIn(text).filter(({ of }) => /^bars?$/.test(of)));
  return windows.length > 0 ? Math.max(...windows.map(({ value }) => value)) : undefined;
}
