import { parseBarRule, type PhraseContext } from '@jaunty-ledger/core';
import type { Tape } from '$lib/api/tapes';

/** Bars of a window that suits bars of a length. */
const WINDOWS: Readonly<Record<string, number>> = { hour: 24, day: 20, week: 13, month: 12, quarter: 4, year: 10 };
const USUAL_WINDOW = 20;

/** What phrases of the trade mean on the bars of a tape. */
export function phraseContext(
  tape: Tape | undefined,
  rule: string,
  rows: number,
  names: ReadonlyMap<string, string>,
): PhraseContext {
  const unit = unitOf(rule);
  const usual = WINDOWS[unit ?? ''] ?? USUAL_WINDOW;
  const all = [...names.keys()];
  return {
    value: tape?.valueName ?? 'close',
    bars: Math.max(2, Math.min(usual, Math.floor(rows / 4))),
    rows,
    unit,
    hasPrices: tape?.kind !== 'series',
    other: all.find((name) => name.includes('.')),
    names: new Set(all),
  };
}

/** The unit that bars are one of; undefined for bars of another length, and for those that are not by time. */
function unitOf(rule: string): string | undefined {
  const { kind } = parseBarRule(rule);
  if (kind.by === 'period') return kind.unit;
  return kind.by === 'interval' ? UNITS.get(kind.micros / 1e6) : undefined;
}

const UNITS: ReadonlyMap<number, string> = new Map([
  [1, 'second'],
  [60, 'minute'],
  [3600, 'hour'],
]);
