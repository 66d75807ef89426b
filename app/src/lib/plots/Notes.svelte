<script lang="ts">
  import Input from '$lib/components/Input.svelte';
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
    <Input
      class={[
        'pointer-events-auto max-w-80 min-w-[6ch] border-transparent! bg-(--paper)! px-1 text-[13px] text-(--rust)! italic field-sizing-content focus:border-(--rust)!',
        x > widthPx * 0.7 && 'absolute right-px text-right',
      ]}
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
</style>
