<script lang="ts">
  import type { LedgerLane } from '$lib/api/ledgers';
  import PopoverMenu from '$lib/components/PopoverMenu.svelte';
  import { paced } from '$lib/components/paced.svelte';
  import { whenText } from '$lib/chart/calendarTicks';
  import { barWords } from '$lib/plots/barWords';
  import EntryInput from './EntryInput.svelte';
  import EntryLine from './EntryLine.svelte';
  import { figureText } from '@jaunty-ledger/core';
  import { isFlat, type LaneScale } from '$lib/plots/laneScale';
  import LaneTools from './LaneTools.svelte';
  import { rowsInView } from '$lib/chart/viewWindow';
  import type { EntryModel } from '$lib/plots/laneModel';
  import type { LedgerSession } from './ledgerSession.svelte';

  let {
    session,
    lane,
    entries,
    scale,
    name,
  }: { session: LedgerSession; lane: LedgerLane; entries: EntryModel[]; scale: LaneScale; name: string } = $props();

  let isOver = $state(false);

  const { document, view } = $derived(session);
  const bars = $derived(view.bars!);
  const shown = paced(() => ({ row: view.figureRow, inView: rowsInView(view.window, view.rows) }));
  const row = $derived(Math.min(shown.latest.row, view.viewRows - 1)); // never one of bars that are gone
  const decimals = $derived(view.tape.priceDecimals);
  const detail = $derived(
    view.isSingle
      ? [row < view.rows ? whenText(bars.time[row], view.calendar, view.precision) : 'still to come']
      : barWords(bars, row, decimals),
  );
  const price = (value = NaN) => figureText(value, 'price', decimals);
</script>

<div
  class="margin"
  class:over={isOver}
  role="group"
  aria-label="Entries of the {name.toLowerCase()}"
  ondragover={(event) => {
    if (!event.dataTransfer?.types.includes('text/entry')) return;
    event.preventDefault();
    isOver = true;
  }}
  ondragleave={() => (isOver = false)}
  ondrop={(event) => {
    isOver = false;
    const id = event.dataTransfer?.getData('text/entry');
    if (id) document.moveEntryTo(id, lane.id, entries.length);
  }}
>
  {#if scale.why}<p class="why" role="status">{scale.why}</p>{/if}
  {#if lane.base === 'price'}
    <div class="base">
      <svg class="mark" viewBox="0 0 20 14" aria-hidden="true"
        >{#if view.isSingle || lane.bars !== 'candles'}<path class="line" d="M1 11 7 4l5 5 7-6" />{:else}<path
            class="open"
            d="M2.5 2.5h5v9h-5zM5 0v2.5M5 11.5V14"
          /><path class="filled" d="M12 3h6v8h-6zM15 0v14" />{/if}</svg
      >
      <span class="name">{view.isSingle ? (view.tape.valueName ?? 'value') : 'bars'}</span>
      <span class="figure" title="close {bars.close[row]}">{price(bars.close[row])}</span>
      {#each detail as words, line (line)}<span class="detail">{words}</span>{/each}
    </div>
  {:else if lane.base === 'volume'}
    <div class="base">
      <svg class="mark" viewBox="0 0 20 14" aria-hidden="true"
        ><path class="columns" d="M2 14V6h3v8zM8 14V1h3v13zM14 14V8h3v6z" /></svg
      >
      <span class="name">volume</span>
      <span class="figure" title="{bars.volume[row]} units"
        >{figureText(bars.volume[row] ?? NaN, 'units', decimals)}</span
      >
      <span class="detail"
        >{figureText(bars.trades[row] ?? NaN, 'trades', decimals)} {bars.trades[row] === 1 ? 'trade' : 'trades'}</span
      >
    </div>
  {/if}
  {#if !lane.collapsed}
    {#each entries as model, index (model.entry.id)}
      <EntryLine
        {session}
        {model}
        {row}
        unit={lane.scale === 'percent' ? model.unit : scale.unit}
        isFlat={isFlat(model, scale, ...shown.latest.inView)}
        drop={(id) => document.moveEntryTo(id, lane.id, index)}
      />
    {/each}
  {/if}
  <div class="new">
    {#if !lane.collapsed}<EntryInput
        names={session.names}
        texts={session.texts}
        phrases={session.phrases}
        begun={document.body.lanes[0]?.id === lane.id ? session.written : ''}
        submit={(text) => session.addEntry(lane.id, text)}
      />{/if}
    <span class="more"
      ><PopoverMenu text="lane" label="Settings of the {name.toLowerCase()}"
        ><LaneTools {document} {lane} {scale} isSingle={view.isSingle} /></PopoverMenu
      ></span
    >
  </div>
</div>

<style>
  .margin {
    padding: 8px 12px 6px 14px;
    overflow: auto;
    scrollbar-width: thin;
    display: flex;
    flex-direction: column;
    gap: 7px;
    min-width: 0;
  }
  .margin {
    position: relative;
  }
  .margin.over {
    background: var(--paper-raised);
  }
  .more {
    font-size: 12px;
    opacity: 0;
  }
  .margin:hover .more,
  .margin:focus-within .more,
  .more:has(:global(:popover-open)) {
    opacity: 1;
  }
  .new {
    margin-left: 28px;
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto;
    gap: 8px;
    align-items: end;
  }
  .base {
    display: grid;
    grid-template-columns: 22px minmax(0, 1fr) auto;
    column-gap: 6px;
    align-items: baseline;
  }
  .mark {
    width: 20px;
    height: 14px;
    align-self: center;
  }
  .mark .open {
    fill: none;
    stroke: var(--rising);
    stroke-width: 1.2;
  }
  .mark .line {
    fill: none;
    stroke: var(--price);
    stroke-width: 1.2;
  }
  .mark .filled {
    fill: var(--falling);
    stroke: var(--falling);
    stroke-width: 1;
  }
  .mark .columns {
    fill: var(--volume);
  }
  .why {
    margin: 0;
    font-size: 12.5px;
    font-style: italic;
    color: var(--wrong);
  }
  .name {
    font-weight: 600;
  }
  .figure {
    text-align: right;
  }
  .detail {
    grid-column: 2 / -1;
    font-size: 12.5px;
    color: var(--quiet);
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
</style>
