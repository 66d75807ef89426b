<script lang="ts">
  import type { Snippet } from 'svelte';
  import { AXIS_PX } from '$lib/chart/plotSize';
  import { axisText } from '$lib/plots/axisText';
  import { priceScale, readableTicks } from '$lib/chart/priceScale';
  import { roomOf } from './pictureRoom';

  interface Props {
    /** What the picture shows, for those who do not see it. */
    label: string;
    heightPx?: number;
    /** Least and greatest value; nothing where there is none. */
    extent: [number, number] | undefined;
    fromZero?: boolean;
    /** Kept free at the foot, for what is written there. */
    footPx?: number;
    /** Kept free between the plot and its figures. */
    endPx?: number;
    /** Draws, given the width in pixels, the pixels of a value, and the height. */
    children: Snippet<[widthPx: number, y: (value: number) => number, heightPx: number]>;
  }
  let { label, heightPx: ownPx = 120, extent, fromZero = false, footPx = 0, endPx = 0, children }: Props = $props();

  const room = roomOf();
  const heightPx = $derived(room(ownPx));
  let wholePx = $state(0);
  const widthPx = $derived(Math.max(0, wholePx - AXIS_PX - endPx));
  const scale = $derived(priceScale(extent, heightPx, { fromZero, footPx }));
  const ticks = $derived(extent ? readableTicks(scale, heightPx) : []);
  const text = $derived(axisText('number', ticks));
  const y = (value: number) => scale(value);
</script>

<div class="frame" bind:clientWidth={wholePx}>
  {#if widthPx > 0}
    <svg width={wholePx} height={heightPx} role="img" aria-label={label}>
      {#each ticks as tick (tick)}
        <line class="rule" x1="0" x2={widthPx} y1={y(tick)} y2={y(tick)} />
        <text x={widthPx + endPx + 6} y={y(tick) + 4}>{text(tick)}</text>
      {/each}
      {@render children(widthPx, y, heightPx)}
    </svg>
  {/if}
</div>

<style>
  .frame {
    position: relative;
    min-width: 0;
    overflow: hidden;
  }
  svg {
    display: block;
  }
  .rule {
    stroke: var(--rule-faint);
  }
  text {
    font-size: 12px;
    fill: var(--ink);
  }
</style>
