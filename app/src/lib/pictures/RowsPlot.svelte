<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { Surface } from '$lib/chart/layers';
  import { CanvasPen, inkReader } from '$lib/chart/pen';
  import { plotGestures } from '$lib/chart/plotGestures';
  import { AXIS_PX } from '$lib/chart/plotSize';
  import { priceScale } from '$lib/chart/priceScale';
  import { SvgPen } from '$lib/chart/svgPen';
  import { pxPerRow, xOfRow } from '$lib/chart/viewWindow';
  import { paper } from '$lib/components/paper.svelte';
  import { isTaken } from './asDocument.svelte';
  import Frame from './Frame.svelte';
  import { roomOf } from './pictureRoom';
  import type { RowsView } from './rowsView.svelte';

  /** What is marked on a plot: given the pixels of a row, those of a value, the width and the height. */
  type Marks = Snippet<[x: (row: number) => number, y: (value: number) => number, widthPx: number, heightPx: number]>;
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
    /** What lies on the plot and is no picture, such as notes that can be written. */
    written?: Snippet<[widthPx: number]>;
  }
  let {
    label,
    view,
    heightPx: ownPx = 120,
    footPx = 0,
    extent,
    fromZero = false,
    draw,
    under,
    over,
    written,
  }: Props = $props();

  const room = roomOf();
  const heightPx = $derived(room(ownPx));
  let wholePx = $state(0);
  const plotPx = $derived(Math.max(1, wholePx - AXIS_PX - view.endPx));
  $effect(() => {
    if (wholePx > 0) view.widthPx = plotPx;
  });

  function drawn(widthPx: number, y: (value: number) => number): string {
    const pen = new SvgPen();
    draw({ pen, view: view.window, y, widthPx, heightPx: heightPx - footPx });
    return pen.elements.join('');
  }

  /** So many rows a pixel are painted: a document of so many strokes takes longer than a frame. */
  const PAINTED_FROM = 16;
  const isPainted = $derived(pxPerRow(view.window, plotPx) < 1 / PAINTED_FROM && !isTaken());
  let canvas = $state<HTMLCanvasElement>();
  const read = $derived.by(() => {
    void paper.shown;
    return canvas && inkReader(canvas);
  });
  $effect(() => {
    if (!canvas || !read) return;
    const ratio = window.devicePixelRatio;
    [canvas.width, canvas.height] = [Math.round(plotPx * ratio), Math.round(heightPx * ratio)];
    const context = canvas.getContext('2d', { willReadFrequently: true })!;
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    draw({
      ...{ pen: new CanvasPen(context, ratio, read), view: view.window, widthPx: plotPx, heightPx: heightPx - footPx },
      y: priceScale(extent, heightPx, { fromZero, footPx }),
    });
  });
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
  {#if isPainted}<canvas bind:this={canvas} aria-hidden="true" style:width="{plotPx}px" style:height="{heightPx}px"
    ></canvas>{/if}
  <Frame {label} heightPx={ownPx} endPx={view.endPx} {extent} {footPx} {fromZero}>
    {#snippet children(widthPx, y)}
      {@const x = (row: number) => xOfRow(view.window, row, widthPx)}
      {@const paths = isPainted ? '' : drawn(widthPx, y)}
      {@render under?.(x, y, widthPx, heightPx)}
      <!-- eslint-disable-next-line svelte/no-at-html-tags -- paths that the layers of the chart have drawn -->
      <g class="drawn">{@html paths}</g>
      {@render over?.(x, y, widthPx, heightPx)}
      {#if view.pointer !== undefined}<line
          class="pointer"
          x1={x(view.pointer)}
          x2={x(view.pointer)}
          y1="0"
          y2={heightPx - footPx}
        />{/if}
    {/snippet}
  </Frame>
  {@render written?.(plotPx)}
</div>

<style>
  canvas {
    position: absolute;
    inset: 0 auto auto 0;
  }
  .rows-plot {
    position: relative;
    touch-action: pan-y;
    cursor: crosshair;
  }
  .pointer {
    stroke: var(--ink);
    stroke-dasharray: 1 2;
  }
</style>
