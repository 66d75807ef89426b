<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import type { Snippet } from 'svelte';
  import { giveRoom } from './pictureRoom';

  interface Props {
    /** What is enlarged, as its button says it. */
    label: string;
    children: Snippet;
  }
  let { label, children }: Props = $props();

  /** Of the page, for headings, legends and what is said of the row at the pointer. */
  const OTHER_PX = 120;
  let isWhole = $state(false);
  let pagePx = $state(0);
  let node: HTMLElement;
  giveRoom((ownPx) => (isWhole ? Math.max(ownPx, pagePx - OTHER_PX) : ownPx));

  function key(event: KeyboardEvent): void {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    // in a picture, not in one of its fields
    if (event.key === 'Enter' && event.target instanceof Element && event.target.matches('.rows-plot'))
      isWhole = !isWhole;
    else if (event.key === 'Escape' && isWhole) isWhole = false;
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
  $effect(() => {
    if (!isWhole) return;
    // in the top layer, where it stands in the document: nothing is mounted again
    node.popover = 'manual';
    node.showPopover();
    return () => node.removeAttribute('popover');
  });
</script>

<svelte:window
  bind:innerHeight={pagePx}
  onkeydown={(event) => isWhole && event.key === 'Escape' && (isWhole = false)}
/>
<div role="presentation" class="enlargeable" class:whole={isWhole} bind:this={node} onkeydown={key}>
  <Button
    class={[
      'absolute! z-1 text-[13px]',
      isWhole
        ? 'top-2 right-4'
        : 'top-0 right-0 opacity-0 in-[.enlargeable:is(:hover,:focus-within)]:opacity-100 [@media(hover:none)]:opacity-100',
    ]}
    aria-pressed={isWhole}
    aria-label="Enlarge {label}"
    title={isWhole ? 'Back to the page (Escape)' : 'Over the whole page (Enter in the picture)'}
    onclick={() => (isWhole = !isWhole)}>{isWhole ? 'back' : '⤢'}</Button
  >
  {@render children()}
</div>

<style>
  .enlargeable {
    position: relative;
    min-width: 0;
  }
  .whole {
    position: fixed;
    inset: 0;
    width: auto;
    height: auto;
    margin: 0;
    border: 0;
    padding: 28px 32px;
    color: var(--ink);
    background: var(--paper);
    overflow: auto;
  }
</style>
