import { ArgumentError } from '../arguments.js';
import type { Limits } from './barAssembler.js';
import type { RunningKind } from './barKind.js';
import type { Records } from './records.js';

/** What tells one kind of running bars from another. */
export interface RunningKindEntry {
  /** Which of a bar's totals the limit is of. */
  fills: keyof Limits;
  /** Whether what is compared with the limit is made of prices, and of sizes: in whole steps of these it is compared. */
  ofPrices: boolean;
  ofSizes: boolean;
  /** As a bar rule says it: `500 trades`. */
  print(limit: number): string;
  /** As a sentence says it: `500-trade`. */
  phrase(limit: number): string;
  /** What would be right instead, and why these records cannot be cut so; nothing where they can. */
  refusal(records: Records): string | undefined;
}

const noSizes = ({ size }: Records) =>
  size ? undefined : 'a rule by time, trades or range, since the records have no sizes';

const RUNNING_KINDS: Record<RunningKind['by'], RunningKindEntry> = {
  trades: {
    fills: 'trades',
    ofPrices: false,
    ofSizes: false,
    print: (limit) => `${limit} ${limit === 1 ? 'trade' : 'trades'}`,
    phrase: (limit) => `${limit}-trade`,
    refusal: ({ trades }) =>
      trades?.every(Number.isNaN) ? 'a rule by time, units or range, since the records do not count trades' : undefined,
  },
  units: {
    fills: 'volume',
    ofPrices: false,
    ofSizes: true,
    print: (limit) => `${limit} units`,
    phrase: (limit) => `${limit}-unit`,
    refusal: noSizes,
  },
  value: {
    fills: 'value',
    ofPrices: true,
    ofSizes: true,
    print: (limit) => `${limit} value`,
    phrase: (limit) => `${limit}-value`,
    refusal: noSizes,
  },
  range: {
    fills: 'range',
    ofPrices: true,
    ofSizes: false,
    print: (limit) => `range ${limit}`,
    phrase: (limit) => `${limit}-wide range`,
    refusal: () => undefined,
  },
};

/** All that is asked of a kind of running bars. */
export const runningKind = ({ by }: RunningKind): RunningKindEntry => RUNNING_KINDS[by];

/** @throws {ArgumentError} where records cannot be cut into bars of a kind */
export function refuseUnknown(kind: RunningKind, records: Records): void {
  const right = runningKind(kind).refusal(records);
  if (right !== undefined) throw new ArgumentError('rule', right, kind.by);
}
