<script lang="ts">
  import type { LedgerLane } from '$lib/api/ledgers';
  import type { LedgerDocument } from './ledgerDocument.svelte';

  let { document, lane }: { document: LedgerDocument; lane: LedgerLane } = $props();

  let held: { y: number; weight: number; height: number } | undefined;

  function hold(event: PointerEvent): void {
    const node = event.currentTarget as HTMLElement;
    node.setPointerCapture(event.pointerId);
    held = { y: event.clientY, weight: lane.weight, height: node.parentElement!.clientHeight };
  }

  function move(event: PointerEvent): void {
    if (!held) return;
    const factor = Math.max(0.2, (held.height + event.clientY - held.y) / held.height);
    document.styleLane(lane.id, { weight: clamp(held.weight * factor) }, 'height');
  }

  function key(event: KeyboardEvent): void {
    const factor = { ArrowDown: 1.15, ArrowUp: 1 / 1.15 }[event.key];
    if (!factor) return;
    event.preventDefault();
    document.styleLane(lane.id, { weight: clamp(lane.weight * factor) }, 'height');
  }

  const clamp = (weight: number) => Math.min(10, Math.max(0.1, Number(weight.toFixed(3))));
</script>

<div
  class="resizer"
  role="slider"
  tabindex="0"
  aria-orientation="vertical"
  aria-label="Height of the lane"
  aria-valuemin={0.1}
  aria-valuemax={10}
  aria-valuenow={lane.weight}
  onpointerdown={hold}
  onpointermove={move}
  onpointerup={() => (held = undefined)}
  onpointercancel={() => (held = undefined)}
  onkeydown={key}
></div>

<style>
  .resizer {
    position: absolute;
    left: 0;
    right: 0;
    bottom: -4px;
    height: 8px;
    cursor: ns-resize;
    z-index: 4;
    touch-action: none;
  }
  .resizer:hover,
  .resizer:focus-visible {
    border-bottom: 2px solid var(--blue);
    outline: 0;
    height: 6px;
  }
</style>
