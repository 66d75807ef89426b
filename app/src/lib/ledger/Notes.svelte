<script lang="ts">
  import { firstRowFrom } from '@jaunty-ledger/core';
  import { instantOf } from '$lib/api/times';
  import { xOfRow } from '$lib/chart/viewWindow';
  import type { LedgerSession } from './ledgerSession.svelte';

  let { session, widthPx }: { session: LedgerSession; widthPx: number } = $props();

  const placed = $derived(
    session.body.notes
      .map((note) => ({ note, x: xOfRow(session.view, rowOf(note.at), widthPx) }))
      .filter(({ x }) => x >= 0 && x <= widthPx),
  );

  /** The bar that an instant lies in. */
  function rowOf(at: string): number {
    const { time } = session.bars!;
    const row = firstRowFrom(time, instantOf(at));
    return time[row] === instantOf(at) ? row : Math.max(0, row - 1);
  }
</script>

{#each placed as { note, x } (note.id)}
  <div class="note" class:left={x > widthPx * 0.7} style:left="{x}px">
    <input
      value={note.text}
      aria-label="Note at {note.at}"
      placeholder="a note…"
      size={Math.max(6, note.text.length)}
      onkeydown={(event) => {
        event.stopPropagation();
        if (event.key === 'Enter' || event.key === 'Escape') event.currentTarget.blur();
      }}
      onchange={(event) => session.writeNote(note.id, event.currentTarget.value)}
    />
  </div>
{/each}

<style>
  .note {
    position: absolute;
    top: 22px;
    bottom: 0;
    border-left: 1px solid var(--rust);
    pointer-events: none;
  }
  .note input {
    pointer-events: auto;
    font: italic 13px var(--book);
    color: var(--rust);
    background: var(--paper);
    border: 0;
    padding: 0 4px;
    max-width: 180px;
  }
  .note.left input {
    position: absolute;
    right: 1px;
    text-align: right;
  }
  .note input:focus {
    outline: 0;
    box-shadow: 0 1px 0 var(--rust);
  }
</style>
