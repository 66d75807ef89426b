<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import { figureText, instantOf, parseBarRule } from '@jaunty-ledger/core';
  import { askLatest } from '$lib/api/ask';
  import { fetchRecords, type RecordPage } from '$lib/api/client';
  import { reasonOf } from '$lib/api/problems';
  import { barRecords, reckoned, type BarRecords } from './barReckoning';
  import type { BarView } from './barView.svelte';

  let { view, row }: { view: BarView; row: number } = $props();

  /** Records that are read at most; a daily bar may hold many thousand. */
  const MOST = 5000;
  const SHOWN = 200;
  const NO_RECORDS: BarRecords = { open: [], high: [], low: [], close: [], size: [] };
  const NO_PAGE: RecordPage = { offset: 0, more: true, columns: {} };

  let page = $state.raw<RecordPage>();
  let problem = $state('');

  $effect(() => {
    const { tape, rule, flagged } = view.source;
    page = undefined;
    problem = '';
    const query = {
      rule,
      bar: String(view.bars!.before + row),
      limit: String(MOST),
      ...(!flagged && { flagged: 'no' }),
    };
    return askLatest(
      (fetcher) => fetchRecords(fetcher, tape, query),
      (found) => (page = found),
      (error) => (problem = reasonOf(error)),
    );
  });

  const bars = $derived(view.bars!);
  const { kind, priceDecimals } = $derived(view.tape);
  const rule = $derived(parseBarRule(view.source.rule));
  const records = $derived(page && barRecords(kind, rule, page));
  const count = $derived(records?.close.length ?? 0);
  const lines = $derived(reckoned(kind, rule, records ?? NO_RECORDS, page ?? NO_PAGE));
  const isWhole = $derived(page !== undefined && !page.more);
  const hasSizes = $derived((records?.size.length ?? 0) > 0);
  // the middle of two quotes has a place more than they have
  const decimals = $derived(kind === 'quotes' ? priceDecimals + 1 : priceDecimals);
  const text = (value: number) =>
    value === undefined || Number.isNaN(value) ? 'missing' : String(Number(value.toPrecision(10)));
  /** A record's time by the clock of its market, to the microsecond where it has that. */
  function clock(at: string): string {
    const wall = view.calendar.zone.wallAt(instantOf(at));
    const iso = new Date(Math.floor(wall / 1000)).toISOString();
    const fraction = /\.(\d+)/.exec(at)?.[1] ?? '';
    return `${iso.slice(11, 19)}${fraction ? `.${fraction}` : ''}`;
  }
</script>

<Table look="reckoning">
  <thead><tr><th scope="col">figure</th><th scope="col">as stored</th><th scope="col">from records</th></tr></thead>
  <tbody>
    {#each lines as { of, says, value } (of)}
      <tr
        ><th scope="row">{says}</th><td>{text(bars[of][row])}</td><td
          >{isWhole ? text(value) : of === 'trades' && page ? `${MOST} and more` : ''}</td
        ></tr
      >
    {/each}
  </tbody>
</Table>
{#if problem}
  <p>{problem}</p>
{:else if !page}
  <p>Fetching its records…</p>
{:else}
  <h3>{count <= SHOWN ? 'Its records' : `The first ${SHOWN} of its records`}</h3>
  <Table look="reckoning">
    <thead
      ><tr
        ><th scope="col">time</th><th scope="col">{kind === 'bars' ? 'close' : 'price'}</th>{#if hasSizes}<th
            scope="col">size</th
          >{/if}</tr
      ></thead
    >
    <tbody>
      {#each records!.close.slice(0, SHOWN) as price, index (index)}
        <tr>
          <th scope="row">{clock(String(page.columns.time[index]))}</th>
          <td>{figureText(price, 'price', decimals)}</td>
          {#if hasSizes}<td>{text(records!.size[index])}</td>{/if}
        </tr>
      {/each}
    </tbody>
  </Table>
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
