import { PROFILES, splitEntry, type ProfileBy } from '@jaunty-ledger/core';
import type { ExaminationBody } from '$lib/api/examinations';
import { instantText } from '$lib/api/tapes';

/** All that a page of Examine shows, as its address holds it. */
export interface Examined {
  tape: string;
  bars: string;
  entry: string;
  /** Further entries that it uses. */
  uses: string[];
  from: string;
  to: string;
  treatments: string[];
  lags: number;
  season: number | undefined;
  profile: ProfileBy | undefined;
  /** Another tape whose same entry is examined beside it; empty for none. */
  beside: string;
}

const USUAL_LAGS = 40;

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

/** What an address asks for; of what it does not say, what suits the tape. */
export function examinedOf(address: URLSearchParams, usual: Pick<Examined, 'tape' | 'bars'>): Examined {
  const number = (name: string, least: number, most: number) => {
    const value = Number(address.get(name));
    return Number.isInteger(value) && value >= least && value <= most ? value : undefined;
  };
  const profile = address.get('profile') as ProfileBy | null;
  const end = (name: string) => instantText.safeParse(address.get(name)).data ?? '';
  return {
    tape: address.get('tape') ?? usual.tape,
    bars: address.get('bars') ?? usual.bars,
    entry: address.get('entry') || 'close',
    uses: address.getAll('uses'),
    from: end('from'),
    to: end('to'),
    treatments: address.getAll('taken'),
    lags: number('lags', 1, 400) ?? USUAL_LAGS,
    season: number('season', 2, 1_000_000),
    profile: profile && PROFILES.includes(profile) ? profile : undefined,
    beside: address.get('beside') ?? '',
  };
}

/** The other way round; what is usual is left out. */
export function addressOf(examined: Examined): string {
  const { tape, bars, entry, uses, from, to, treatments, lags, season, profile, beside } = examined;
  const address = new URLSearchParams({ tape, bars, entry });
  for (const one of uses) address.append('uses', one);
  if (from) address.set('from', from);
  if (to) address.set('to', to);
  for (const one of treatments) address.append('taken', one);
  if (lags !== USUAL_LAGS) address.set('lags', String(lags));
  if (season !== undefined) address.set('season', String(season));
  if (profile !== undefined) address.set('profile', profile);
  if (beside) address.set('beside', beside);
  return `/examine?${address}`;
}

/** What is examined as a formula of a ledger: the entry, treated. */
export function formulaOf({ entry, treatments }: Pick<Examined, 'entry' | 'treatments'>): string {
  return treatments.reduce((inner, treatment) => {
    const [, kind, rows = ''] = /^(log|change|detrended|less season)\s*(\d*)$/.exec(treatment) ?? [];
    if (kind === 'less season') return `(${inner}) - season(${inner}, ${rows})`;
    return kind === 'change' && rows ? `change(${inner}, ${rows})` : `${kind}(${inner})`;
  }, splitEntry(entry).formula);
}

/** The question to the server. */
export const bodyOf = (
  { tape, bars, entry, uses, from, to, treatments, lags, season, profile }: Examined,
  shuffles: number,
): ExaminationBody => ({
  tape,
  bars,
  entry,
  entries: uses,
  ...((from || to) && { stretch: { ...(from && { from }), ...(to && { to }) } }),
  treatments,
  lags,
  season,
  profile,
  shuffles,
  seed: 1,
});
