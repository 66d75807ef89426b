<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import type { Snippet } from 'svelte';
  import FigureRows from '$lib/pages/FigureRows.svelte';
  import type { FiguresFile } from './examineFiles';

  /** The heading of a part of the page, and its figures as rows where there are some. */
  let { file, children }: { file?: FiguresFile; children: Snippet } = $props();

  let isOpen = $state(false);
</script>

<div class="head">
  <h2>{@render children()}</h2>
  {#if file}<Button
      class="text-[13px]"
      aria-expanded={isOpen}
      aria-label="Figures as rows: {file.says}"
      onclick={() => (isOpen = !isOpen)}>rows</Button
    >{/if}
</div>
{#if file && isOpen}<FigureRows {file} />{/if}

<style>
  .head {
    display: flex;
    gap: 12px;
    align-items: baseline;
    justify-content: space-between;
  }
</style>
