<script lang="ts">
  import { axisRight } from 'd3-axis';
  import { select } from 'd3-selection';
  import type { Unit } from '@jaunty-ledger/core';
  import { axisText } from '$lib/ledger/figures';
  import { paper } from '$lib/components/paper.svelte';
  import { readInks, type Inks } from './inks';
  import { crisp, type Surface } from './layers';
  import { priceScale, tickCount, type PriceScale } from './priceScale';
  import type { Turn } from './turns';
  import type { ViewWindow } from './viewWindow';

  let {
    view,
    extent,
    fromZero,
    footPx,
    unit,
    turns,
    showTexts,
    pointerX,
    label,
    draw,
    onresize,
  }: {
    view: ViewWindow;
    extent: [number, number] | undefined;
    fromZero: boolean;
    /** Kept free at the foot of the lane. */
    footPx: number;
    unit: Unit;
    /** Vertical rules; their texts only in the topmost lane. */
    turns: readonly Turn[];
    showTexts: boolean;
    pointerX: number | undefined;
    /** What the picture shows, for those who do not see it. */
    label: string;
    draw: (surface: Surface, inks: Inks) => void;
    onresize: (widthPx: number) => void;
  } = $props();

  let canvas: HTMLCanvasElement;
  let axis: SVGGElement;
  let widthPx = $state(0);
  let heightPx = $state(0);

  const y: PriceScale = $derived(priceScale(extent, Math.max(1, heightPx), fromZero, footPx));
  // a figure that would be cut by the edge of the lane is left out, its rule too
  const ticks = $derived(
    extent ? y.ticks(tickCount(heightPx)).filter((tick) => y(tick) > 8 && y(tick) < heightPx - 8) : [],
  );

  $effect(() => onresize(widthPx));

  $effect(() => {
    void paper.shown; // the inks are those of the paper
    if (widthPx === 0 || heightPx === 0) return;
    const ratio = window.devicePixelRatio;
    canvas.width = Math.round(widthPx * ratio);
    canvas.height = Math.round(heightPx * ratio);
    const context = canvas.getContext('2d')!;
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    const inks = readInks(canvas);
    drawRules(context, inks);
    draw({ context, view, y, widthPx, heightPx }, inks);
  });

  $effect(() => {
    const step = ticks.length > 1 ? ticks[1] - ticks[0] : 1;
    const text = axisText(unit, step);
    select(axis)
      .call(axisRight<number>(y).tickValues(ticks).tickFormat(text).tickSize(0).tickPadding(6))
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
