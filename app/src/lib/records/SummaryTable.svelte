<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import type { TapeSummary } from '$lib/api/summary';
  import { figureText } from '@jaunty-ledger/core';

  interface Props {
    summary: TapeSummary;
    decimals: number;
    /** What the values of the records are called. */
    valueName: string;
  }
  let { summary, decimals, valueName }: Props = $props();

  const PRICES = new Set(['price', 'open', 'high', 'low', 'close', 'bid', 'ask']);
  const text = (name: string, value: number | null, more = 0) =>
    value === null ? '–' : figureText(value, PRICES.has(name) ? 'price' : 'number', decimals + more);
</script>

<div class="scroll">
  <Table look="figures">
    <thead>
      <tr>
        <th scope="col"></th>
        {#each ['mean', 'standard deviation', 'min', 'Q1', 'median', 'Q3', 'max', 'missing'] as name (name)}<th
            scope="col">{name}</th
          >{/each}
      </tr>
    </thead>
    <tbody>
      {#each summary.columns as { name, mean, stdev, min, q1, median, q3, max, missing } (name)}
        <tr>
          <th scope="row">{name === 'price' ? valueName : name}</th>
          <td>{text(name, mean, 2)}</td>
          <td>{text(name, stdev, 2)}</td>
          <td>{text(name, min)}</td>
          <td>{text(name, q1)}</td>
          <td>{text(name, median)}</td>
          <td>{text(name, q3)}</td>
          <td>{text(name, max)}</td>
          <td>{missing.toLocaleString('en')}</td>
        </tr>
      {/each}
    </tbody>
  </Table>
</div>
{#each summary.words as { name, words } (name)}
  <p>
    <span class="name">{name}:</span>
    {words
      .slice(0, 8)
      .map(({ word, count }) => `${word || '(empty)'} ${count.toLocaleString('en')}`)
      .join(', ')}
  </p>
{/each}

<style>
  .scroll {
    overflow-x: auto;
  }
  th,
  td {
    text-align: right;
    padding: 1px 12px 1px 0;
    font-weight: 400;
    white-space: nowrap;
  }
  tbody th {
    text-align: left;
    font-weight: 600;
  }
  p {
    margin: 4px 0 0;
    font-size: 13.5px;
  }
  .name {
    font-weight: 600;
  }
</style>
