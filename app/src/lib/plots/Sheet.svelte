<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import type { Snippet } from 'svelte';

  /** A sheet that hangs from the line of acts: closed by its button and by Escape. */
  let {
    label,
    widthPx = 420,
    onclose,
    children,
  }: { label: string; widthPx?: number; onclose: () => void; children: Snippet } = $props();
</script>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<div
  class="sheet"
  role="group"
  aria-label={label}
  style:width="{widthPx}px"
  onkeydown={(event) => event.key === 'Escape' && onclose()}
>
  {@render children()}
  <Button onclick={onclose}>close</Button>
</div>

<style>
  .sheet {
    position: absolute;
    z-index: 25;
    right: 20px;
    top: 44px;
    max-width: calc(100% - 40px);
    max-height: 70vh;
    overflow: auto;
    box-sizing: border-box;
    padding: 10px 16px;
    background: var(--paper);
    border: 1px solid var(--rule);
    border-top: 2px solid var(--ink);
    font-size: 15px;
    line-height: 1.6;
  }
  .sheet :global(p) {
    margin: 4px 0;
  }
  .sheet :global(ul) {
    list-style: none;
    margin: 0;
    padding: 0;
  }
</style>
