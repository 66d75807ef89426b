<script lang="ts">
  import type { LedgerBody } from '$lib/api/ledgers';
  import type { ViewWindow } from '$lib/chart/viewWindow';
  import { notesInView } from './notesInView';

  let {
    time,
    view,
    notes,
    write,
    widthPx,
  }: {
    /** Instants of the rows. */
    time: Float64Array;
    view: ViewWindow;
    notes: LedgerBody['notes'];
    write: (id: string, text: string) => void;
    widthPx: number;
  } = $props();

  const placed = $derived(notesInView(notes, time, view, widthPx));
</script>

{#each placed as { note, x } (note.id)}
  <div class="note" class:left={x > widthPx * 0.7} style:transform="translateX({x}px)">
    <input
      value={note.text}
      aria-label="Note at {note.at}"
      placeholder="a note…"
      onkeydown={(event) => {
        event.stopPropagation();
        if (event.key === 'Enter' || event.key === 'Escape') event.currentTarget.blur();
      }}
      onchange={(event) => write(note.id, event.currentTarget.value)}
    />
  </div>
{/each}

<style>
  .note {
    position: absolute;
    inset: 22px auto 0 0;
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
    field-sizing: content;
    min-width: 6ch;
    max-width: 320px;
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
