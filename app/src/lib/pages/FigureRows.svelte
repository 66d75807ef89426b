<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import type { FigureTable } from './figureFiles';

  let { file }: { file: FigureTable } = $props();

  const ROW_PX = 20;
  const SHOWN_PX = 220;
  let scrolledPx = $state(0);
  const first = $derived(Math.max(0, Math.floor(scrolledPx / ROW_PX) - 4));
  const shown = $derived(file.rows.slice(first, first + Math.ceil(SHOWN_PX / ROW_PX) + 8));
  const text = (cell: string | number | null) =>
    cell === null ? '' : typeof cell === 'number' ? String(Number(cell.toPrecision(7))).replace('-', '−') : cell;
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div
  class="rows"
  role="region"
  aria-label="Figures: {file.says}"
  tabindex="0"
  style:max-height="{SHOWN_PX}px"
  onscroll={(event) => (scrolledPx = event.currentTarget.scrollTop)}
>
  <Table look="figures" class="text-[13px] whitespace-nowrap" aria-rowcount={file.rows.length}>
    <thead
      ><tr
        >{#each file.head as name, column (column)}<th scope="col">{name.replaceAll('_', ' ')}</th>{/each}</tr
      ></thead
    >
    <tbody>
      <tr aria-hidden="true" style:height="{first * ROW_PX}px"></tr>
      {#each shown as row, at (first + at)}
        <tr
          >{#each row as cell, column (column)}<td class:word={typeof cell === 'string'}>{text(cell)}</td>{/each}</tr
        >
      {/each}
      <tr aria-hidden="true" style:height="{Math.max(0, file.rows.length - first - shown.length) * ROW_PX}px"></tr>
    </tbody>
  </Table>
</div>

<style>
  .rows {
    overflow: auto;
    margin: 6px 0;
    border-top: 1px solid var(--rule);
    border-bottom: 1px solid var(--rule);
  }
  tbody tr {
    height: 20px;
  }
  th {
    position: sticky;
    top: 0;
    background: var(--paper);
    font-weight: 400;
    font-style: italic;
    color: var(--quiet);
  }
  th,
  td {
    padding: 0 14px 0 0;
    text-align: right;
    font-variant-numeric: tabular-nums;
  }
  td.word {
    text-align: left;
  }
</style>
