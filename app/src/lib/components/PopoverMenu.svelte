<script lang="ts">
  import Button from './Button.svelte';
  import type { Snippet } from 'svelte';

  interface Props {
    /** The word that opens it. */
    text: string;
    /** Accessible name of the word and of what it opens. */
    label: string;
    children: Snippet;
  }
  let { text, label, children }: Props = $props();

  /** Between the word and what it opens, and to the edges of the window. */
  const GAP_PX = 4;
  const id = $props.id();
  let isOpen = $state(false);
  let button = $state<HTMLButtonElement>();
  let panel: HTMLElement;

  /** Below the word where there is room, else above; never beyond an edge. */
  function place(): void {
    const { left, top, bottom } = button!.getBoundingClientRect();
    const { offsetWidth, offsetHeight } = panel;
    const isBelow = bottom + GAP_PX + offsetHeight <= window.innerHeight || bottom < window.innerHeight / 2;
    const y = isBelow ? bottom + GAP_PX : top - GAP_PX - offsetHeight;
    panel.style.left = `${Math.max(GAP_PX, Math.min(left, window.innerWidth - offsetWidth - GAP_PX))}px`;
    panel.style.top = `${Math.max(GAP_PX, y)}px`;
  }

  function toggled(event: ToggleEvent): void {
    if (event.newState !== 'open') return;
    place();
    panel.querySelector<HTMLElement>('select, input, button')?.focus({ preventScroll: true });
  }
</script>

<Button
  bind:element={button}
  class="opener"
  popovertarget={id}
  aria-haspopup="dialog"
  aria-expanded={isOpen}
  aria-label={label}>{text}</Button
>
<!-- in the top layer: no scrolling part of the page clips it; Escape or a press elsewhere closes it -->
<div
  bind:this={panel}
  {id}
  popover="auto"
  role="dialog"
  aria-label={label}
  onbeforetoggle={({ newState }) => (isOpen = newState === 'open')}
  ontoggle={toggled}
>
  {#if isOpen}{@render children()}{/if}
</div>

<style>
  [popover] {
    position: fixed;
    inset: auto;
    margin: 0;
    padding: 10px 14px;
    max-width: calc(100vw - 8px);
    max-height: calc(100dvh - 8px);
    overflow: auto;
    color: var(--ink);
    background: var(--paper-raised);
    border: 1px solid var(--rule);
    font-size: 13.5px;
  }
</style>
