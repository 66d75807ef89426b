<script lang="ts">
  import { paper } from '$lib/components/paper.svelte';
  import { readInks, type Inks } from './inks';
  import type { Surface } from './layers';
  import { CanvasPen } from './pen';
  import { drawRules } from './ruleLayer';
  import { priceScale, readableTicks, type PriceScale, type ScaleOptions } from './priceScale';
  import type { CalendarTick } from './calendarTicks';
  import { AXIS_PX } from './plotSize';
  import type { ViewWindow } from './viewWindow';

  let {
    view,
    extent,
    second,
    options,
    axisTexts,
    secondTexts,
    prefix,
    suffix,
    calendarTicks,
    showTexts,
    pointerX,
    label,
    draw,
    onresize,
  }: {
    view: ViewWindow;
    extent: [number, number] | undefined;
    /** Extent of the second scale, whose figures stand at the left edge. */
    second: [number, number] | undefined;
    options: ScaleOptions;
    /** How figures of each scale are written whose step is so large, and what stands before and after those of the first. */
    axisTexts: (ticks: readonly number[]) => (value: number) => string;
    secondTexts: (ticks: readonly number[]) => (value: number) => string;
    prefix: string;
    suffix: string;
    /** Vertical rules; their texts only in the topmost lane. */
    calendarTicks: readonly CalendarTick[];
    showTexts: boolean;
    pointerX: number | undefined;
    /** What the picture shows, for those who do not see it. */
    label: string;
    draw: (surface: Surface, inks: Inks, second: PriceScale) => void;
    onresize: (widthPx: number) => void;
  } = $props();

  let canvas: HTMLCanvasElement;
  let widthPx = $state(0);
  let heightPx = $state(0);

  /** Days and hours stand above what is drawn, not on it. */
  const headPx = $derived(showTexts && heightPx > 70 ? 16 : 0);
  const y: PriceScale = $derived(priceScale(extent, Math.max(1, heightPx), { ...options, headPx }));
  const y2: PriceScale = $derived(priceScale(second, Math.max(1, heightPx), { footPx: options.footPx, headPx }));
  const ticks = $derived(extent ? readableTicks(y, heightPx) : []);
  const ticks2 = $derived(second ? readableTicks(y2, heightPx) : []);
  const plain = $derived(axisTexts(ticks));
  const secondText = $derived(secondTexts(ticks2));

  $effect(() => onresize(widthPx));

  let inks = $state.raw<Inks>();
  // the inks are those of the paper: read when it is turned, not for each picture
  $effect(() => {
    void paper.shown;
    inks = readInks(canvas);
  });

  $effect(() => {
    if (widthPx === 0 || heightPx === 0 || !inks) return;
    const ratio = window.devicePixelRatio;
    const [width, height] = [Math.round(widthPx * ratio), Math.round(heightPx * ratio)];
    // kept in the page's own memory: a picture that is new with each frame is not sent to another process first
    const context = canvas.getContext('2d', { willReadFrequently: true })!;
    if (canvas.width !== width || canvas.height !== height) {
      canvas.width = width;
      canvas.height = height;
    }
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    context.clearRect(0, 0, widthPx, heightPx);
    const surface = { pen: new CanvasPen(context, ratio), view, y, widthPx, heightPx };
    drawRules(surface, ticks, calendarTicks, inks);
    draw(surface, inks, y2);
  });
</script>

<div class="plot" style:--axis-width="{AXIS_PX}px">
  <div class="picture" bind:clientWidth={widthPx} bind:clientHeight={heightPx}>
    <div role="img" aria-label={label}><canvas bind:this={canvas}></canvas></div>
    {#if showTexts}
      {#each calendarTicks as { row, x, text, isLeft, isMain } (`${row} ${text}`)}
        {#if text}<span
            class="tick"
            class:main={isMain}
            style:transform="translateX({isLeft ? `calc(${x}px - 100% - 10px)` : `${x}px`})">{text}</span
          >{/if}
      {/each}
    {/if}
    {#each ticks2 as tick (tick)}<span class="second" style:transform="translateY(calc({y2(tick)}px - 50%))"
        >{secondText(tick)}</span
      >{/each}
    {#if pointerX !== undefined}<div class="pointer" style:transform="translateX({pointerX}px)"></div>{/if}
  </div>
  <!-- moved by transforms alone: their places change with each step one pans, and nothing else need be laid out anew -->
  <div class="axis" aria-hidden="true">
    {#each ticks as tick (tick)}
      <span style:transform="translateY(calc({y(tick)}px - 50%))">{prefix + plain(tick) + suffix}</span>
    {/each}
  </div>
</div>

<style>
  .plot {
    display: grid;
    grid-template-columns: minmax(0, 1fr) var(--axis-width);
    grid-template-rows: minmax(0, 1fr);
    height: 100%;
    min-width: 0;
  }
  .picture {
    position: relative;
    overflow: hidden;
    min-width: 0;
  }
  canvas {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
  }
  .axis {
    position: relative;
    overflow: hidden;
    contain: strict;
  }
  .axis span {
    position: absolute;
    top: 0;
    left: 6px;
    font-size: 12.5px;
    white-space: nowrap;
  }
  .tick {
    position: absolute;
    top: 3px;
    left: 0;
    padding-left: 5px;
    font-size: 12.5px;
    font-style: italic;
    color: var(--quiet);
    white-space: nowrap;
    pointer-events: none;
  }
  .second {
    position: absolute;
    top: 0;
    left: 4px;
    font-size: 12px;
    font-style: italic;
    color: var(--quiet);
    background: var(--paper);
    padding: 0 2px;
    pointer-events: none;
  }
  .tick.main {
    color: var(--ink);
  }
  .pointer {
    position: absolute;
    inset: 0 auto 0 0;
    width: 0;
    border-left: 1px dotted var(--ink);
    pointer-events: none;
  }
</style>
