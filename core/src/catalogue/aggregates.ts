import { reachOfWindow, type Window } from '../windows/window.js';
import type { ByHand, PairByHand } from '../working/byHand.js';
import { pairWorking, windowWorking } from '../working/windowWorking.js';
import { COLUMN_X, type FunctionEntry, type OptionRule, type Parameter, type Settings } from './functionEntry.js';
import { unitOfX, type Unit } from './units.js';
import { windowPhrase } from './phrases.js';

/** Options that every window takes. */
const WINDOW_OPTIONS = {
  from: {
    kind: 'whole',
    min: 0,
    says: 'fewest valid values that give a result; 1 also starts before the window is full',
  },
  skip: { kind: 'whole', min: 0, says: 'rows that the window is moved back; 1 leaves the current row out' },
  placed: {
    kind: 'word',
    words: ['behind', 'centre', 'ahead'],
    says: 'where the window lies about its row (bars only)',
  },
} as const satisfies Record<string, OptionRule>;

export const DIVISOR: OptionRule = { kind: 'word', words: ['m-1', 'm'], says: 'what the squares are divided by' };

export const divisorOf = ({ words }: Settings) => ({
  divisor: words.divisor === 'm' ? ('m' as const) : ('m-1' as const),
});

/** `from` if given, else the length of a window by bars, else 1; never fewer than the formula needs. */
export function leastValid({ window, numbers }: Settings, needed: number): number {
  const usual = window!.kind === 'bars' ? window!.bars : 1;
  return Math.max(needed, numbers.from ?? usual);
}

function peeks(window: Window): boolean {
  return window.kind === 'bars' && window.placed !== 'behind' && window.bars > 1;
}

function refuseFrom({ window, numbers }: Settings): string | undefined {
  if (window!.kind !== 'bars' || !(numbers.from > window!.bars)) return undefined;
  return `\`from\` is at most the ${window!.bars} bars of the window, got ${numbers.from}`;
}

export const WINDOW: Parameter = { kind: 'window', name: 'over', says: 'which rows', required: true };

type AggregateEntry<Hand> = Pick<
  FunctionEntry,
  'name' | 'sentence' | 'formula' | 'source' | 'compute' | 'startsEarly'
> & {
  /** The same from the values of a window in the plainest way, for the working. */
  byHand?: Hand;
  unit?: (units: readonly Unit[]) => Unit;
  options?: Record<string, OptionRule>;
  example?: string;
  cost?: string;
  remark?: string;
};

/** What the aggregates of one column over a window have in common. */
export function aggregate({ byHand, ...entry }: AggregateEntry<ByHand>): FunctionEntry {
  return {
    ...(byHand && { working: windowWorking(byHand) }),
    unit: unitOfX,
    phrase: ([x], { window }) => `${entry.name} of ${x} over ${windowPhrase(window!)}`,
    example: `${entry.name}(close, 20 bars)`,
    definition: '4. Windows',
    cost: 'O(1) a row, whatever the window',
    parameters: [COLUMN_X, WINDOW],
    refuse: refuseFrom,
    looksAhead: ({ window }) => peeks(window!),
    reach: ({ window }) => reachOfWindow(window!),
    slides: true,
    ...entry,
    options: { ...WINDOW_OPTIONS, ...entry.options },
  };
}

/** The same for aggregates of two columns. */
export function pairAggregate({ byHand, ...entry }: AggregateEntry<PairByHand>): FunctionEntry {
  return {
    ...aggregate(entry),
    ...(byHand && { working: pairWorking(byHand) }),
    unit: entry.unit ?? (() => 'number'),
    phrase: ([x, y], { window }) => `${entry.name} of ${x} and ${y} over ${windowPhrase(window!)}`,
    example: `${entry.name}(return(close), return(volume), 20 bars)`,
    parameters: [COLUMN_X, { kind: 'column', name: 'y', says: 'the values beside them' }, WINDOW],
  };
}
