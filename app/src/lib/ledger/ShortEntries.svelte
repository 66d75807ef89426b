<script lang="ts">
  import { splitEntry, type EntryModel } from './laneModel';
  import type { LedgerSession } from './ledgerSession.svelte';

  let { session, short, left }: { session: LedgerSession; short: { model: EntryModel; rows: number }[]; left: number } =
    $props();
</script>

<p class="short" style:left="{left}px">
  {#each short as { model, rows }, index (model.entry.id)}{index > 0 ? ', ' : ''}{splitEntry(model.entry.text).name}: {rows}
    {rows === 1 ? 'bar' : 'bars'} short
    {#if session.canStartEarly(model.entry.id)}<button
        type="button"
        class="aside"
        onclick={() => session.startEarly(model.entry.id)}>start early</button
      >{/if}{/each}
  <button type="button" class="aside" onclick={() => session.setTrimmed(true)}>leave these bars out</button>
</p>

<style>
  .short {
    position: absolute;
    bottom: 0;
    margin: 0;
    font-size: 12px;
    line-height: 14px;
    white-space: nowrap;
    font-style: italic;
    color: var(--quiet);
    background: var(--paper);
    padding-right: 4px;
    cursor: default;
  }
  button {
    font-size: 12px;
    line-height: 14px;
  }
</style>
