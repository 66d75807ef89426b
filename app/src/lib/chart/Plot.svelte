<script lang="ts">
  import { axisRight, type AxisScale } from 'd3-axis';
  import { select } from 'd3-selection';
  import type { Unit } from '@jaunty-ledger/core';
  import { axisText } from '$lib/ledger/figures';
  import { paper } from '$lib/components/paper.svelte';
  import { readInks, type Inks } from './inks';
  import { crisp, type Surface } from './layers';
  import { priceScale, tickCount, type PriceScale, type ScaleOptions } from './priceScale';
  import type { Turn } from './turns';
  import type { ViewWindow } from './viewWindow';

  let {
    view,
    extent,
    second,
    options,
    unit,
    decimals,
    prefix,
    suffix,
    turns,
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
    unit: Unit;
    /** Places of the figures, where they are chosen, and what is written before and after them. */
    decimals: number | null;
    prefix: string;
    suffix: string;
    /** Vertical rules; their texts only in the topmost lane. */
    turns: readonly Turn[];
    showTexts: boolean;
    pointerX: number | undefined;
    /** What the picture shows, for those who do not see it. */
    label: string;
    draw: (surface: Surface, inks: Inks, second: PriceScale) => void;
    onresize: (widthPx: number) => void;
  } = $props();

  let canvas: HTMLCanvasElement;
  let axis: SVGGElement;
  let widthPx = $state(0);
  let heightPx = $state(0);

  /** Days and hours stand above what is drawn, not on it. */
  const headPx = $derived(showTexts && heightPx > 70 ? 16 : 0);
  const y: PriceScale = $derived(priceScale(extent, Math.max(1, heightPx), { ...options, headPx }));
  const y2: PriceScale = $derived(priceScale(second, Math.max(1, heightPx), { footPx: options.footPx, headPx }));
  // a figure that would be cut by the edge of the lane is left out, its rule too
  const ticks = $derived(extent ? readable(y, heightPx) : []);
  const ticks2 = $derived(second ? readable(y2, heightPx) : []);
  const secondText = $derived(axisText('number', ticks2.length > 1 ? ticks2[1] - ticks2[0] : 1));

  /** Figures that have room, and are not cut by an edge; a logarithmic scale gives more than asked, so they are thinned. */
  function readable(scale: PriceScale, height: number): number[] {
    const all = scale.ticks(tickCount(height)).filter((tick) => scale(tick) > 8 && scale(tick) < height - 8);
    const kept: number[] = [];
    for (const tick of all) if (kept.length === 0 || Math.abs(scale(tick) - scale(kept.at(-1)!)) >= 20) kept.push(tick);
    return kept;
  }

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
    drawRules(context, inks);
    draw({ context, view, y, widthPx, heightPx }, inks, y2);
  });

  $effect(() => {
    const step = ticks.length > 1 ? ticks[1] - ticks[0] : 1;
    const plain = axisText(unit, step, decimals);
    const text = (value: number) => prefix + plain(value) + suffix;
    select(axis)
      .call(
        axisRight<number>(y as AxisScale<number>)
          .tickValues(ticks)
          .tickFormat(text)
          .tickSize(0)
          .tickPadding(6),
      )
      .call((group) => group.select('.domain').remove());
  });

  function drawRules(context: CanvasRenderingContext2D, inks: Inks): void {
    context.lineWidth = 1;
    const stroke = (colour: string, trace: () => void) => {
      context.beginPath();
      trace();
      context.strokeStyle = colour;
      context.stroke();
    };
    stroke(inks.faintRule, () => {
      for (const tick of ticks) {
        context.moveTo(0, crisp(y(tick) - 0.5));
        context.lineTo(widthPx, crisp(y(tick) - 0.5));
      }
    });
    for (const main of [false, true])
      stroke(main ? inks.rule : inks.faintRule, () => {
        for (const { x } of turns.filter(({ isMain }) => isMain === main)) {
          context.moveTo(crisp(x - 0.5), 0);
          context.lineTo(crisp(x - 0.5), heightPx);
        }
      });
  }
</script>

<div class="plot">
  <div class="picture" bind:clientWidth={widthPx} bind:clientHeight={heightPx}>
    <div role="img" aria-label={label}><canvas bind:this={canvas}></canvas></div>
    {#if showTexts}
      {#each turns as { x, text, isMain } (`${x} ${text}`)}
        {#if text}<span class="turn" class:main={isMain} style:left="{x}px">{text}</span>{/if}
      {/each}
    {/if}
    {#each ticks2 as tick (tick)}<span class="second" style:top="{y2(tick)}px">{secondText(tick)}</span>{/each}
    {#if pointerX !== undefined}<div class="pointer" style:left="{pointerX}px"></div>{/if}
  </div>
  <svg class="axis" aria-hidden="true"><g bind:this={axis}></g></svg>
</div>

<style>
  .plot {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 58px;
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
    width: 58px;
    height: 100%;
    overflow: hidden;
  }
  .axis :global(text) {
    font-family: var(--book);
    font-size: 12.5px;
    fill: var(--ink);
  }
  .turn {
    position: absolute;
    top: 3px;
    padding-left: 5px;
    font-size: 12.5px;
    font-style: italic;
    color: var(--quiet);
    white-space: nowrap;
    pointer-events: none;
  }
  .second {
    position: absolute;
    left: 4px;
    transform: translateY(-50%);
    font-size: 12px;
    font-style: italic;
    color: var(--quiet);
    background: var(--paper);
    padding: 0 2px;
    pointer-events: none;
  }
  .turn.main {
    color: var(--ink);
  }
  .pointer {
    position: absolute;
    top: 0;
    bottom: 0;
    width: 0;
    border-left: 1px dotted var(--ink);
    pointer-events: none;
  }
</style>
