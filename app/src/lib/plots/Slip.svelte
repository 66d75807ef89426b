<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import type { Snippet } from 'svelte';

  let {
    title,
    side = 'right',
    onclose,
    children,
    tools,
  }: { title: string; side?: 'right' | 'foot'; onclose: () => void; children: Snippet; tools?: Snippet } = $props();

  let node: HTMLElement;
  // whoever opens a slip by keyboard goes on in it
  $effect(() => node.focus({ preventScroll: true }));
</script>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<section
  class={side}
  aria-label={title}
  tabindex="-1"
  bind:this={node}
  onkeydown={(event) => {
    if (event.key === 'Escape') onclose();
  }}
>
  <div class="head small-print">
    <h2>{title}</h2>
    {@render tools?.()}
    <Button onclick={onclose}>close</Button>
  </div>
  <!-- what is longer than the slip is scrolled by keys too -->
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <div class="body" tabindex="0" role="group" aria-label="{title}, content">{@render children()}</div>
</section>

<style>
  section {
    background: var(--paper);
    outline: 0;
    display: flex;
    flex-direction: column;
    min-height: 0;
  }
  .right {
    flex: 0 0 380px;
    min-width: 0;
    box-sizing: border-box;
    border-left: 2px solid var(--ink);
    border-bottom: 1px solid var(--rule);
  }
  .foot {
    flex: 0 0 38%;
    border-top: 2px solid var(--ink);
  }
  .head {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 14px;
    align-items: baseline;
    padding: 8px 16px 4px;
  }
  h2 {
    font-size: 16px;
    margin: 0;
    flex: 1;
    white-space: nowrap;
  }
  .body {
    flex: 1;
    min-height: 0;
    overflow: auto;
    padding: 0 16px 12px;
    scrollbar-width: thin;
  }
  @media (max-width: 700px) {
    .right {
      position: fixed;
      z-index: 12;
      inset: 44px 0 0;
      border-left: 0;
    }
    .foot {
      height: 46vh;
      flex: none;
    }
  }
</style>
