<script lang="ts">
  import { parseBarRule } from '@jaunty-ledger/core';
  import { fetchRecords, type RecordPage } from '$lib/api/client';
  import { Refusal } from '$lib/api/problems';
  import { instantOf, rfc3339 } from '$lib/api/times';
  import { figureText } from './figures';
  import type { LedgerSession } from './ledgerSession.svelte';

  let { session, row }: { session: LedgerSession; row: number } = $props();

  /** Records that are read at most; a daily bar may hold many thousand. */
  const MOST = 5000;
  const SHOWN = 200;

  let page = $state.raw<RecordPage>();
  let problem = $state('');

  $effect(() => {
    const bars = session.bars!;
    const [from, end] = [bars.time[row], bars.end[row]];
    page = undefined;
    problem = '';
    let isCurrent = true;
    // a bar by count ends with the very instant of its last record
    const { by } = parseBarRule(session.body.rule).kind;
    const to = rfc3339(by === 'interval' || by === 'period' ? end : end + 1);
    fetchRecords(fetch, session.body.tape, { from: rfc3339(from), to, limit: String(MOST) }).then(
      (found) => isCurrent && (page = found),
      (error: unknown) => isCurrent && (problem = error instanceof Refusal ? error.problem.detail : String(error)),
    );
    return () => (isCurrent = false);
  });

  const bars = $derived(session.bars!);
  const decimals = $derived(session.tape.priceDecimals);
  const numbers = (name: string) => (page?.columns[name] ?? []) as number[];
  const prices = $derived(numbers('price').length > 0 ? numbers('price') : numbers('close'));
  const sizes = $derived(numbers('size').length > 0 ? numbers('size') : numbers('volume'));
  const highs = $derived(numbers('high').length > 0 ? numbers('high') : prices);
  const lows = $derived(numbers('low').length > 0 ? numbers('low') : prices);
  const opens = $derived(numbers('open').length > 0 ? numbers('open') : prices);
  const count = $derived(prices.length);
  const isWhole = $derived(count > 0 && count < MOST);
  const lines = $derived([
    { says: 'open, of the first record', stored: bars.open[row], plain: opens[0] },
    { says: 'high, the greatest', stored: bars.high[row], plain: highs.reduce((a, b) => Math.max(a, b), -Infinity) },
    { says: 'low, the least', stored: bars.low[row], plain: lows.reduce((a, b) => Math.min(a, b), Infinity) },
    { says: 'close, of the last', stored: bars.close[row], plain: prices[count - 1] },
    { says: 'volume, the sum of sizes', stored: bars.volume[row], plain: sizes.reduce((a, b) => a + (b ?? 0), 0) },
  ]);
  const text = (value: number) =>
    value === undefined || Number.isNaN(value) ? 'missing' : String(Number(value.toPrecision(10)));
  /** A record's time by the clock of its market, to the microsecond where it has that. */
  function clock(at: string): string {
    const wall = session.calendar.zone.wallAt(instantOf(at));
    const iso = new Date(Math.floor(wall / 1000)).toISOString();
    const fraction = /\.(\d+)/.exec(at)?.[1] ?? '';
    return `${iso.slice(11, 19)}${fraction ? `.${fraction}` : ''}`;
  }
</script>

<table class="reckoning">
  <thead><tr><th scope="col">figure</th><th scope="col">as stored</th><th scope="col">from records</th></tr></thead>
  <tbody>
    {#each lines as { says, stored, plain } (says)}
      <tr><th scope="row">{says}</th><td>{text(stored)}</td><td>{isWhole ? text(plain) : ''}</td></tr>
    {/each}
    <tr><th scope="row">vwap, value / volume</th><td>{text(bars.vwap[row])}</td><td></td></tr>
    <tr
      ><th scope="row">records</th><td>{text(bars.trades[row])}</td><td
        >{page ? (isWhole ? count : `${MOST} and more`) : ''}</td
      ></tr
    >
  </tbody>
</table>
{#if problem}
  <p>{problem}</p>
{:else if !page}
  <p>Fetching its records…</p>
{:else}
  <h3>{count <= SHOWN ? 'Its records' : `The first ${SHOWN} of its records`}</h3>
  <table class="reckoning">
    <thead><tr><th scope="col">time</th><th scope="col">price</th><th scope="col">size</th></tr></thead>
    <tbody>
      {#each prices.slice(0, SHOWN) as price, index (index)}
        <tr>
          <th scope="row">{clock(String(page.columns.time[index]))}</th>
          <td>{figureText(price, 'price', decimals)}</td>
          <td>{sizes[index] ?? ''}</td>
        </tr>
      {/each}
    </tbody>
  </table>
{/if}

<style>
  th {
    white-space: nowrap;
  }
  h3 {
    font-size: 14px;
    margin: 12px 0 2px;
  }
</style>
