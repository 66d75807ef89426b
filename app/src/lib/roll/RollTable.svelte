<script lang="ts">
  import { RowWindow } from '$lib/components/rowWindow.svelte';
  import Table from '$lib/components/Table.svelte';
  import Button from '$lib/components/Button.svelte';
  import { type Calendar, figureText, instantOf, makeCalendar, movePercent } from '@jaunty-ledger/core';
  import type { RollRow } from '$lib/works/roll/work';
  import type { Tape } from '$lib/api/tapes';
  import { momentFigures } from '$lib/plots/stretchText';
  import type { Rolled } from './rollAddress';
  import { sparkPath, valueOf } from './rollRows';

  interface Props {
    tapes: readonly Tape[];
    rows: readonly RollRow[];
    names: readonly string[];
    rolled: Rolled;
    /** The ledger that is opened on a tape; the tape's own without. */
    like: number | undefined;
    change: (what: Partial<Rolled>, group?: string) => void;
  }
  let { tapes, rows, names, rolled, like, change }: Props = $props();

  const inSight = new RowWindow(() => rows.length, 27, 8, 600);

  /** Relative rounding of values that are computed. */
  const ROUNDING = 1e-12;
  const sortBy = (sort: string) =>
    change({ sort, falling: rolled.sort === sort ? !rolled.falling : sort !== '' }, 'sort');
  const ordered = (name: string) => (rolled.sort !== name ? 'none' : rolled.falling ? 'descending' : 'ascending');
  const figure = ({ unit, last: value }: RollRow['values'][number], tape: string) =>
    figureText(value, unit, tapesByName.get(tape)?.priceDecimals ?? 0, { missing: '' });
  function moveText({ unit, last: now, before }: RollRow['values'][number], tape: string): string {
    if (now === null || before === null || unit === 'truth') return '';
    const isRelative = unit === 'price' && before > 0;
    // equal figures may differ by rounding, which is no move
    const isSame = Math.abs(now - before) <= ROUNDING * Math.max(Math.abs(now), Math.abs(before));
    const move = isSame ? 0 : isRelative ? now / before - 1 : now - before;
    if (isRelative) return movePercent(move);
    const ofMove = unit === 'price' ? 'move' : unit;
    return figureText(move, ofMove, tapesByName.get(tape)?.priceDecimals ?? 0, { isSigned: true });
  }
  /** By time zone: that of a tape is all that its dates need. */
  const calendars = new Map<string, Calendar>();
  const tapesByName = $derived(new Map(tapes.map((tape) => [tape.name, tape])));
  /** The date of a bar on the clock of its tape. */
  function dayText(name: string, at: string | null): string {
    const tape = tapesByName.get(name);
    if (!tape || !at || Number.isNaN(instantOf(at))) return '';
    const { zone } = tape;
    const calendar = calendars.get(zone) ?? makeCalendar({ zone });
    calendars.set(zone, calendar);
    return momentFigures(instantOf(at), calendar, tape.precision === 'moment' ? 'day' : tape.precision);
  }
  const ledgerOf = (tape: string) =>
    `/ledger?${new URLSearchParams({ tape, ...(like !== undefined && { like: String(like) }) })}`;
</script>

<div
  class="scroller"
  role="region"
  aria-label="The roll"
  bind:clientHeight={inSight.heightPx}
  onscroll={(event) => (inSight.topPx = event.currentTarget.scrollTop)}
>
  <Table look="figures" aria-rowcount={rows.length}>
    <thead>
      <tr>
        <th scope="col" aria-sort={ordered('')}
          ><Button look="bare" class="text-(--quiet)" onclick={() => sortBy('')}
            >tape{rolled.sort === '' ? (rolled.falling ? ' ↓' : ' ↑') : ''}</Button
          ></th
        >
        <th scope="col">last bar</th>
        {#each names as name (name)}
          <th scope="col" class="figure" aria-sort={ordered(name)}
            ><Button look="bare" class="text-(--quiet)" onclick={() => sortBy(name)}
              >{name}{rolled.sort === name ? (rolled.falling ? ' ↓' : ' ↑') : ''}</Button
            ></th
          >
          <td colspan="2"></td>
        {/each}
      </tr>
    </thead>
    <tbody>
      {#if inSight.first > 0}<tr aria-hidden="true" style:height="{inSight.abovePx}px"></tr>{/if}
      {#each rows.slice(inSight.first, inSight.end) as row (row.tape)}
        <tr>
          <th scope="row"
            ><a href={ledgerOf(row.tape)} title="Version {row.version}; opens these entries on it">{row.tape}</a></th
          >
          <td class="quiet">{dayText(row.tape, row.at)}</td>
          {#each names as name (name)}
            {@const value = valueOf(row, name)}
            <td class="figure">{value ? figure(value, row.tape) : ''}</td>
            <td class="figure quiet">{value ? moveText(value, row.tape) : ''}</td>
            <td
              >{#if value}<svg width="64" height="20" aria-hidden="true"
                  ><path d={sparkPath(value.spark, 64, 20)} /></svg
                >{/if}</td
            >
          {/each}
        </tr>
      {/each}
      {#if inSight.end < rows.length}<tr aria-hidden="true" style:height="{inSight.belowPx}px"></tr>{/if}
    </tbody>
  </Table>
  {#if rows.length === 0}<p class="quiet">No row is here.</p>{/if}
</div>

<style>
  .scroller {
    overflow: auto;
    max-height: max(320px, calc(100dvh - 300px));
    margin-top: 6px;
    border-top: 1px solid var(--rule);
  }
  thead th,
  thead td {
    position: sticky;
    top: 0;
    background: var(--paper);
    font-weight: 400;
    font-style: italic;
    z-index: 1;
  }
  thead th:not(.figure) {
    text-align: left;
  }
  tbody tr {
    height: 27px;
    border-top: 1px solid var(--rule-faint);
  }
  th,
  td {
    padding: 0 12px 0 0;
    white-space: nowrap;
  }
  tbody th {
    font-weight: 600;
    text-align: left;
  }
  tbody th a {
    color: var(--ink);
  }
  .figure {
    text-align: right;
  }
  .quiet {
    color: var(--quiet);
    font-size: 12.5px;
  }
  svg {
    display: block;
  }
  path {
    fill: none;
    stroke: var(--blue);
    stroke-width: 1.1;
  }
</style>
