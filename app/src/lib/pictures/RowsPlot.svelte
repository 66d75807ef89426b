<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { Surface } from '$lib/chart/layers';
  import { plotGestures } from '$lib/chart/plotGestures';
  import { AXIS_PX } from '$lib/chart/plotSize';
  import { SvgPen } from '$lib/chart/svgPen';
  import { xOfRow } from '$lib/chart/viewWindow';
  import Frame from './Frame.svelte';
  import type { RowsView } from './rowsView.svelte';

  /** What is marked on a plot: given the pixels of a row, those of a value, and the width. */
  type Marks = Snippet<[x: (row: number) => number, y: (value: number) => number, widthPx: number]>;
  interface Props {
    label: string;
    view: RowsView;
    heightPx?: number;
    /** Kept free at the foot, for what is written there. */
    footPx?: number;
    extent: [number, number] | undefined;
    fromZero?: boolean;
    /** Draws with the layers of the chart. */
    draw: (surface: Surface) => void;
    under?: Marks;
    over?: Marks;
  }
  let { label, view, heightPx = 120, footPx = 0, extent, fromZero = false, draw, under, over }: Props = $props();

  let wholePx = $state(0);
  const plotPx = $derived(Math.max(1, wholePx - AXIS_PX));

  function drawn(widthPx: number, y: (value: number) => number): string {
    const pen = new SvgPen();
    draw({ pen, view: view.window, y, widthPx, heightPx: heightPx - footPx });
    return pen.elements.join('');
  }
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div
  class="rows-plot"
  role="application"
  aria-label={label}
  tabindex="0"
  bind:clientWidth={wholePx}
  use:plotGestures={view.gestures(plotPx)}
>
  <Frame {label} {heightPx} {extent} {footPx} {fromZero}>
    {#snippet children(widthPx, y)}
      {@const x = (row: number) => xOfRow(view.window, row, widthPx)}
      {@render under?.(x, y, widthPx)}
      <!-- eslint-disable-next-line svelte/no-at-html-tags -- paths that the layers of the chart have drawn -->
      <g class="drawn">{@html drawn(widthPx, y)}</g>
      {@render over?.(x, y, widthPx)}
      {#if view.pointer !== undefined}<line
          class="pointer"
          x1={x(view.pointer)}
          x2={x(view.pointer)}
          y1="0"
          y2={heightPx - footPx}
        />{/if}
    {/snippet}
  </Frame>
</div>

<style>
  .rows-plot {
    touch-action: pan-y;
    cursor: crosshair;
  }
  .pointer {
    stroke: var(--ink);
    stroke-dasharray: 1 2;
  }
</style>
