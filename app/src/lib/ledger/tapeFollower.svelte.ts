import { BarRows, instantOf, type Bars } from '@jaunty-ledger/core';
import { FollowedRows } from '$lib/api/live';
import { Problem } from '$lib/api/problems';
import type { BarView } from '$lib/plots/barView.svelte';
import type { EntryResults } from '$lib/plots/entryResults.svelte';
import type { LedgerDocument } from './ledgerDocument.svelte';

/** What is kept up to date: bars, and results of entries on them. */
interface Followed {
  readonly document: Pick<LedgerDocument, 'alone'>;
  readonly view: BarView;
  readonly results: EntryResults;
  /** Loads the bars anew. */
  open: () => Promise<void>;
  evaluate: () => Promise<void>;
}

/** Keeps a ledger up to date with its tape while that is fed. */
export class TapeFollower {
  /** Whether the tape is followed, and whether the server is heard. */
  isOn = $state(false);
  isHeard = $state(false);
  problem = $state('');
  /** Records of the tape, as they were told last. */
  records = $state<number>();
  private source: EventSource | undefined;
  /** What was told and is not shown yet, with the number that results on it tell. */
  private told: { growth: number; first: number; part: Bars }[] = [];
  private rows: BarRows | undefined;

  constructor(private readonly session: Followed) {
    session.results.grown = (growth) => this.show(growth);
  }

  /** A stretch that is worked with alone has an end, and records without instants are not fed. */
  get canBeFollowed(): boolean {
    const { view, document } = this.session;
    return view.tape?.precision === 'moment' && !document.alone;
  }

  get canFollow(): boolean {
    const { bars, source } = this.session.view;
    return this.canBeFollowed && bars !== undefined && !source.alone;
  }

  start(): void {
    this.isOn = true;
    this.session.view.showNewest();
    this.connect();
  }

  stop(): void {
    this.isOn = this.isHeard = false;
    this.source?.close();
    this.source = undefined;
  }

  /** Other bars have been opened: they are followed from now on. */
  reopened(): void {
    this.told = [];
    this.rows = undefined;
    if (!this.canFollow) this.stop();
    if (this.isOn) this.connect();
  }

  private connect(): void {
    const { view } = this.session;
    this.source?.close();
    this.problem = '';
    if (!view.bars || view.isPart) return;
    const { tape, rule, flagged } = view.source;
    const query = new URLSearchParams({ rule, flagged: flagged ? 'yes' : 'no', version: String(view.bars.version) });
    const source = new EventSource(`/api/tapes/${encodeURIComponent(tape)}/follow?${query}`);
    this.source = source;
    source.onopen = () => (this.isHeard = true);
    source.onerror = () => {
      this.isHeard = false;
      // a server that does not answer is asked again by itself; one that refuses is not
      if (source.readyState !== EventSource.CLOSED) return;
      this.stop();
      this.problem = `${tape} cannot be followed any more. Load the page again.`;
    };
    source.addEventListener('rows', ({ data }) => this.take(FollowedRows.parse(JSON.parse(data as string))));
    source.addEventListener('problem', ({ data }) => {
      this.stop();
      this.problem = Problem.parse(JSON.parse(data as string)).detail;
    });
  }

  private take({ tooMany, first, rows, records, bars, texts, numbers }: FollowedRows): void {
    const { view, results } = this.session;
    this.records = records;
    if (tooMany || !bars) return void this.session.open();
    const part = barsOf(bars, texts, numbers);
    const before = this.told.at(-1);
    const known = before ? before.first + before.part.time.length : (this.rows?.count ?? view.rows);
    if (first > known || rows < first) return void this.session.open();
    this.told.push({ growth: results.grow(first, part), first, part });
    void this.session.evaluate();
  }

  /** Shows what results know of. */
  private show(growth: number): void {
    const { view } = this.session;
    const known = this.told.filter((one) => one.growth <= growth);
    if (known.length === 0 || !view.bars) return;
    this.told = this.told.filter((one) => one.growth > growth);
    this.rows ??= new BarRows(view.bars);
    for (const { first, part } of known) this.rows.put(first, part);
    view.grow(this.rows, this.isOn);
  }
}

const figures = (list: readonly (number | null)[]) => Float64Array.from(list, (value) => value ?? NaN);

function barsOf(
  { time, end, complete, ...fields }: NonNullable<FollowedRows['bars']>,
  texts: FollowedRows['texts'],
  numbers: FollowedRows['numbers'],
): Bars {
  const own = (columns: FollowedRows['texts']) =>
    columns && Object.fromEntries(Object.entries(columns).map(([name, list]) => [name, figures(list)]));
  const { open, high, low, close, volume, value, vwap, trades } = fields;
  return {
    time: Float64Array.from(time, instantOf),
    end: Float64Array.from(end, instantOf),
    ...{ open: figures(open), high: figures(high), low: figures(low), close: figures(close) },
    ...{ volume: figures(volume), value: figures(value), vwap: figures(vwap), trades: figures(trades) },
    complete: Uint8Array.from(complete),
    texts: own(texts),
    numbers: own(numbers),
  };
}
