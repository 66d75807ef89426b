<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import { splitEntry } from '@jaunty-ledger/core';
  import type { EntryModel } from '$lib/plots/laneModel';
  import type { LedgerDocument } from './ledgerDocument.svelte';

  let {
    document,
    short,
    left,
    leaveOut,
  }: {
    document: LedgerDocument;
    short: { model: EntryModel; rows: number }[];
    left: number;
    /** Leaves the bars out of view on which not every entry has a value. */
    leaveOut: () => void;
  } = $props();
</script>

<p class="short" style:left="{left}px">
  {#each short as { model, rows }, index (model.entry.id)}{index > 0 ? ', ' : ''}{splitEntry(model.entry.text).name}: {rows}
    {rows === 1 ? 'bar' : 'bars'} short
    {#if document.canStartEarly(model.entry.id)}<Button
        class="text-[12px] leading-3.5"
        onclick={() => document.startEarly(model.entry.id)}>start early</Button
      >{/if}{/each}
  <Button class="text-[12px] leading-3.5" onclick={leaveOut}>leave these bars out</Button>
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
</style>
