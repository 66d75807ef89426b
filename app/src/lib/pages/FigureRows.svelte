<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import { RowWindow } from '$lib/components/rowWindow.svelte';
  import type { FigureTable } from './figureFiles';

  let { file }: { file: FigureTable } = $props();

  const SHOWN_PX = 220;
  const inSight = new RowWindow(() => file.rows.length, 20, 4, SHOWN_PX);
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
  onscroll={(event) => (inSight.topPx = event.currentTarget.scrollTop)}
>
  <Table look="figures" class="text-[13px] whitespace-nowrap" aria-rowcount={file.rows.length}>
    <thead
      ><tr
        >{#each file.head as name, column (column)}<th scope="col">{name.replaceAll('_', ' ')}</th>{/each}</tr
      ></thead
    >
    <tbody>
      <tr aria-hidden="true" style:height="{inSight.abovePx}px"></tr>
      {#each file.rows.slice(inSight.first, inSight.end) as row, at (inSight.first + at)}
        <tr
          >{#each row as cell, column (column)}<td class:word={typeof cell === 'string'}>{text(cell)}</td>{/each}</tr
        >
      {/each}
      <tr aria-hidden="true" style:height="{inSight.belowPx}px"></tr>
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
  }
  td.word {
    text-align: left;
  }
</style>
