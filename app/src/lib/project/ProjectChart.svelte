<script lang="ts">
  import { instantOf, type Calendar, type Precision } from '@jaunty-ledger/core';
  import type { ToldProjections } from '$lib/works/projection/work';
  import { calendarMarks } from '$lib/pictures/calendarMarks';
  import Frame from '$lib/pictures/Frame.svelte';
  import { roomOf } from '$lib/pictures/pictureRoom';
  import { extentOfFigures, linePath, type Figures } from '$lib/pictures/lines';
  import { AXIS_PX } from '$lib/chart/plotSize';
  import { dashes, inks, projectedHere, readModel } from './models';

  interface Props {
    told: ToldProjections;
    horizon: number;
    focus: number;
    target: number | null;
    calendar: Calendar;
    precision: Precision;
    /** A time as it is written at the origin. */
    timeText: (time: string) => string;
    /** Another origin, as the place of a value. */
    onorigin: (origin: number) => void;
    /** Another target, while it is dragged. */
    ontarget: (target: number) => void;
  }
  let { told, horizon, focus, target, calendar, precision, timeText, onorigin, ontarget }: Props = $props();

  const OWN_PX = 380;
  const room = roomOf();
  const heightPx = $derived(room(OWN_PX));
  const FOOT_PX = 20;
  /** Where the origin is while it is dragged. */
  let dragged = $state<number>();
  let wholePx = $state(0);
  const plotPx = $derived(Math.max(1, wholePx - AXIS_PX));

  const last = $derived(told.from + told.values.length - 1);
  const shown = $derived(Math.max(120, 4 * horizon));
  /** First place that is drawn, and the one after the last. */
  const first = $derived(Math.max(told.from, Math.min(last - shown, told.origin - Math.round(shown / 2))));
  // room for what is projected from the last row, wherever the origin is: nothing jumps when it is dragged
  const end = $derived(last + 1 + horizon);
  const x = (place: number, widthPx: number) => ((place - first + 0.5) / (end - first)) * widthPx;
  const origin = $derived(dragged ?? told.origin);
  const value = (place: number) => told.values[place - told.from] ?? null;
  const seen = $derived(told.values.slice(first - told.from, origin - told.from + 1));
  const came = $derived(told.values.slice(origin - told.from, Math.min(last, origin + horizon) - told.from + 1));

  /** All values before an origin, where all were given: simple models are worked out here while it is dragged. */
  const whole = $derived(told.from === 0 ? Float64Array.from(told.values, (one) => one ?? NaN) : undefined);
  const lines = $derived(
    told.models.map(({ model, value: own, refused }): Figures => {
      if (refused) return [];
      if (dragged === undefined || dragged === told.origin) return own;
      const read = readModel(model);
      if (!whole || !('isSimple' in read) || !read.isSimple) return [];
      return projectedHere(whole.subarray(0, dragged + 1), model, horizon) ?? [];
    }),
  );
  const focused = $derived(dragged === undefined ? told.models[focus] : undefined);
  const extent = $derived(
    extentOfFigures(
      told.values.slice(first - told.from),
      ...lines,
      ...(focused ? [focused.low80, focused.high80] : []),
      target === null ? [] : [target],
    ),
  );

  /** From where an average over its own output has no measured row in its window. */
  const madeUp = $derived.by(() => {
    const rows = Number(/^average (\d+)/.exec(focused?.model ?? '')?.[1] ?? NaN);
    return rows + 1 <= horizon ? told.origin + rows + 1 : undefined;
  });

  function bandPath(low: Figures, high: Figures, widthPx: number, y: (value: number) => number): string {
    const at = (h: number) => x(told.origin + 1 + h, widthPx).toFixed(1);
    const there = low.flatMap((one, h) => (one === null ? [] : [`${at(h)} ${y(one).toFixed(1)}`]));
    const back = high.flatMap((one, h) => (one === null ? [] : [`${at(h)} ${y(one).toFixed(1)}`])).reverse();
    const start = value(told.origin);
    return there.length === 0 || start === null
      ? ''
      : `M${x(told.origin, widthPx).toFixed(1)} ${y(start).toFixed(1)}L${[...there, ...back].join('L')}Z`;
  }

  /** Times of the places; rows ahead have one where the calendar gives it. */
  const times = $derived.by(() => {
    const known = told.time.slice(first - told.from);
    return Float64Array.from([...known, ...told.ahead.slice(last - told.origin)], instantOf);
  });
  const marksIn = $derived(calendarMarks(times, calendar, precision));
  const marks = $derived(marksIn({ first: 0, count: end - first }, plotPx));

  function placeAt(event: PointerEvent): number {
    const { left } = event.currentTarget instanceof Element ? frame!.getBoundingClientRect() : { left: 0 };
    const place = Math.floor(first + ((event.clientX - left) / plotPx) * (end - first));
    return Math.min(last, Math.max(Math.max(told.from, first), place));
  }
  let frame = $state<HTMLElement>();

  /** A value to five digits, as one types it. */
  const typed = (wanted: number) => Number(wanted.toPrecision(5));

  /** The value at a height of the plot, whose scale is a straight one. */
  function dragTarget(event: PointerEvent, y: (value: number) => number): void {
    if (event.buttons !== 1 || !extent) return;
    const [low, high] = extent;
    const atPx = event.clientY - frame!.getBoundingClientRect().top;
    if (high > low) ontarget(typed(low + ((atPx - y(low)) / (y(high) - y(low))) * (high - low)));
  }

  function turnTarget(event: KeyboardEvent): void {
    const by = { ArrowUp: 1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[event.key];
    if (by === undefined || !extent) return;
    event.preventDefault();
    ontarget(typed(target! + (by * (extent[1] - extent[0])) / 200));
  }

  function letGo(): void {
    if (dragged !== undefined && dragged !== told.origin) onorigin(dragged);
    else dragged = undefined;
  }
  // an answer from another origin ends the drag
  $effect(() => {
    void told;
    dragged = undefined;
  });

  function key(event: KeyboardEvent): void {
    const by = { ArrowLeft: -1, ArrowRight: 1, PageUp: -10, PageDown: 10 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    onorigin(Math.min(last, Math.max(told.from + 1, told.origin + by)));
  }
</script>

<div class="chart" bind:clientWidth={wholePx} bind:this={frame}>
  <Frame label="The last values and the forecasts of the models" heightPx={OWN_PX} {extent} footPx={FOOT_PX}>
    {#snippet children(widthPx, y)}
      {#each marks as { at, text } (at)}
        {@const left = Math.round(x(first + at - 0.5, widthPx)) + 0.5}
        <line class="turn" x1={left} x2={left} y1="0" y2={heightPx - FOOT_PX} />
        <text class="time" x={left + 4} y={heightPx - 5}>{text}</text>
      {/each}
      <clipPath id="plot"><rect width={widthPx} height={heightPx - FOOT_PX} /></clipPath>
      <g clip-path="url(#plot)">
        {#if focused && !focused.refused}
          <path class="fan outer" d={bandPath(focused.low95, focused.high95, widthPx, y)} />
          <path class="fan" d={bandPath(focused.low80, focused.high80, widthPx, y)} />
        {/if}
        {#if madeUp !== undefined}
          <line class="made-up" x1={x(madeUp, widthPx)} x2={x(madeUp, widthPx)} y1="0" y2={heightPx - FOOT_PX} />
          <text class="time" x={x(madeUp, widthPx) + 4} y={heightPx - FOOT_PX - 6}>no actual values in its window</text>
        {/if}
        {#if target !== null}
          <line class="target" x1="0" x2={widthPx} y1={y(target)} y2={y(target)} />
          <rect
            class="grip"
            role="slider"
            tabindex="0"
            aria-label="Target, to be dragged"
            aria-valuenow={target}
            aria-orientation="vertical"
            width={widthPx}
            y={y(target) - 6}
            height="12"
            onpointerdown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
            onpointermove={(event) => dragTarget(event, y)}
            onkeydown={turnTarget}
          />
        {/if}
        <path class="seen" d={linePath(seen, (at) => x(first + at, widthPx), y)} />
        <path class="came" d={linePath(came, (at) => x(origin + at, widthPx), y)} />
        {#each lines as line, at (at)}
          <path
            class:focus={at === focus}
            d={linePath([value(origin), ...line], (h) => x(origin + h, widthPx), y)}
            stroke={inks(at)}
            stroke-dasharray={dashes(at)}
          />
        {/each}
      </g>
    {/snippet}
  </Frame>
  {#if plotPx > 1}
    {@const px = x(origin, plotPx)}
    <div
      class="origin"
      role="slider"
      tabindex="0"
      aria-label="Origin: the last row that is seen"
      aria-valuemin={told.from + 1}
      aria-valuemax={last}
      aria-valuenow={origin}
      aria-valuetext={timeText(told.time[origin - told.from])}
      style:left="{px - 6}px"
      style:height="{heightPx - FOOT_PX}px"
      onpointerdown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        dragged = origin;
      }}
      onpointermove={(event) => dragged !== undefined && event.buttons === 1 && (dragged = placeAt(event))}
      onpointerup={letGo}
      onpointercancel={() => (dragged = undefined)}
      onkeydown={key}
    ></div>
    <p class="when" class:right={px < 140} style:left="{px}px">{timeText(told.time[origin - told.from])}</p>
  {/if}
</div>

<style>
  .chart {
    position: relative;
  }
  path {
    fill: none;
    stroke-width: 1.6;
  }
  .seen {
    stroke: var(--ink);
    stroke-width: 1.3;
  }
  .came {
    stroke: var(--ink);
    stroke-dasharray: 1 3;
  }
  .focus {
    stroke-width: 2.4;
  }
  .fan {
    fill: var(--span);
    opacity: 0.9;
  }
  .fan.outer {
    opacity: 0.5;
  }
  .target {
    stroke: var(--rust);
    stroke-dasharray: 6 3;
  }
  .made-up {
    stroke: var(--quiet);
    stroke-dasharray: 2 4;
  }
  .grip {
    fill: transparent;
    cursor: ns-resize;
    touch-action: none;
  }
  .turn {
    stroke: var(--rule-faint);
  }
  .time {
    font-size: 12px;
    fill: var(--quiet);
  }
  .origin {
    position: absolute;
    top: 0;
    width: 12px;
    cursor: ew-resize;
    touch-action: none;
    background: linear-gradient(var(--margin-rule), var(--margin-rule)) center / 2px 100% no-repeat;
  }
  .when {
    position: absolute;
    top: 0;
    margin: 0;
    padding: 0 6px;
    transform: translateX(-100%);
    font-size: 13px;
    color: var(--paper);
    background: var(--margin-rule);
    pointer-events: none;
    white-space: nowrap;
  }
  .when.right {
    transform: none;
  }
</style>
