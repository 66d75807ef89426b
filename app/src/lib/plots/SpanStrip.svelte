<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Select from '$lib/components/Select.svelte';
  import { asRange, extentOf } from '$lib/chart/extent';
  import { eachPixelColumn } from '$lib/chart/layers';
  import { readInks } from '$lib/chart/inks';
  import { priceScale } from '$lib/chart/priceScale';
  import { momentText, ticksInView } from '$lib/chart/calendarTicks';
  import { pxPerRow, wholeSpan, xOfRow } from '$lib/chart/viewWindow';
  import { paper } from '$lib/components/paper.svelte';
  import type { Axis, BarView } from './barView.svelte';

  let { view, setAxis }: { view: BarView; setAxis: (axis: Axis) => void } = $props();

  let canvas: HTMLCanvasElement;
  let widthPx = $state(0);
  let heightPx = $state(0);
  let held: { part: 'from' | 'to' | 'window'; x: number; first: number; end: number } | undefined;

  const bars = $derived(view.bars!);
  /** Coarse prices of the whole span, until all bars are there. */
  const coarse = $derived(view.isPart ? Float64Array.from(view.tape.spark) : undefined);
  // by itself, since the view changes with each step one pans and the axis does not: the strip is then left as it is
  const trueTime = $derived(view.window.trueTime);
  const whole = $derived(wholeSpan(view.rows, trueTime));
  const calendarTicks = $derived(
    widthPx > 0 ? ticksInView(whole, bars.time, view.days, view.calendar, widthPx, view.precision) : [],
  );
  const pxPerPlace = $derived(widthPx / Math.max(1, view.rows));
  // bars to come are in view beyond the last bar, where the strip ends
  const left = $derived(Math.max(0, Math.min(widthPx - 4, view.window.first * pxPerPlace)));
  const right = $derived(Math.min(widthPx, (view.window.first + view.window.count) * pxPerPlace));
  const width = $derived(Math.max(4, right - left));
  const days = $derived(view.precision === 'moment' ? 'day' : view.precision);
  const spanText = $derived(
    view.rows === 0
      ? 'no bars'
      : `${momentText(bars.time[0], view.calendar, days)} to ${momentText(bars.time[view.rows - 1], view.calendar, days)}`,
  );

  $effect(() => {
    void paper.shown;
    if (widthPx === 0) return;
    const ratio = window.devicePixelRatio;
    canvas.width = Math.round(widthPx * ratio);
    canvas.height = Math.round(heightPx * ratio);
    const context = canvas.getContext('2d')!;
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    const ranged = asRange(bars.close);
    const y = priceScale(extentOf(ranged, 0, view.rows), heightPx - 2);
    const style = getComputedStyle(canvas);
    context.fillStyle = style.getPropertyValue('--span');
    if (coarse) {
      const at = priceScale(extentOf(asRange(coarse), 0, coarse.length), heightPx - 2);
      const stepPx = widthPx / coarse.length;
      coarse.forEach((price, index) => context.fillRect(index * stepPx, at(price), Math.ceil(stepPx), heightPx));
      return;
    }
    const roomPx = pxPerRow(whole, widthPx);
    const columnPx = Math.max(1, Math.ceil(roomPx));
    if (roomPx >= 1) {
      for (let row = 0; row < view.rows; row++)
        if (!Number.isNaN(bars.close[row]))
          context.fillRect(xOfRow(whole, row, widthPx) - roomPx / 2, y(bars.close[row]), columnPx, heightPx);
    } else
      eachPixelColumn({ view: whole, widthPx }, 1, view.rows, (x, from, to) => {
        const extent = extentOf(ranged, from, to);
        if (extent) context.fillRect(x, y(extent[1]), 1, heightPx);
      });
    context.fillStyle = readInks(canvas).rule;
    for (const { x, text } of calendarTicks) if (text) context.fillRect(Math.round(x), heightPx - 5, 1, 5);
  });

  function hold(event: PointerEvent, part: 'from' | 'to' | 'window'): void {
    event.stopPropagation();
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    held = { part, x: event.clientX, first: view.window.first, end: view.window.first + view.window.count };
  }

  function move(event: PointerEvent): void {
    if (!held) return;
    const by = (event.clientX - held.x) / pxPerPlace;
    if (held.part === 'window') view.look({ ...view.window, first: held.first + by });
    if (held.part === 'from')
      view.look({
        ...view.window,
        first: Math.min(held.first + by, held.end - 8),
        count: held.end - Math.min(held.first + by, held.end - 8),
      });
    if (held.part === 'to') view.look({ ...view.window, first: held.first, count: held.end + by - held.first });
  }

  function jump(event: PointerEvent): void {
    const place = (event.clientX - canvas.getBoundingClientRect().left) / pxPerPlace;
    view.look({ ...view.window, first: place - view.window.count / 2 });
  }

  function key(event: KeyboardEvent, part: 'from' | 'to' | 'window'): void {
    const direction = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (!direction) return;
    event.preventDefault();
    const { window: shown } = view;
    const { first, count } = shown;
    const by = direction * Math.max(1, count * 0.1);
    if (part === 'window') view.look({ ...shown, first: first + by });
    else if (part === 'from') view.look({ ...shown, first: first + by, count: count - by });
    else view.look({ ...shown, count: count + by });
  }
</script>

<section class="strip" aria-label="The whole span">
  <div class="words">
    <strong>The whole span</strong>
    <Button onclick={() => view.lookAtAll()}>show all</Button>
    <span>{view.isPart ? 'loading all bars…' : spanText}</span>
    <span
      >{view.rows.toLocaleString('en')}
      {view.rows === 1 ? 'bar' : 'bars'}
      <Select
        look="word"
        aria-label="Time axis"
        value={view.axis}
        onchange={(event) => setAxis(event.currentTarget.value as Axis)}
      >
        <option value="bars">evenly spaced</option>
        <option value="time">by time</option>
      </Select></span
    >
  </div>
  <div class="track">
    <div
      class="picture"
      bind:clientWidth={widthPx}
      bind:clientHeight={heightPx}
      onpointerdown={jump}
      role="presentation"
    >
      <canvas bind:this={canvas} aria-hidden="true"></canvas>
      {#if !view.isPart}
        <div
          class="window"
          role="slider"
          tabindex="0"
          aria-label="Stretch in view"
          aria-valuemin={0}
          aria-valuemax={view.rows}
          aria-valuenow={Math.round(view.window.first)}
          style:left="{left}px"
          style:width="{width}px"
          onpointerdown={(event) => hold(event, 'window')}
          onpointermove={move}
          onpointerup={() => (held = undefined)}
          onkeydown={(event) => key(event, 'window')}
        ></div>
        {#each ['from', 'to'] as const as part (part)}
          <div
            class="handle"
            style:left="{part === 'from' ? left : left + width}px"
            role="slider"
            tabindex="0"
            aria-label={part === 'from' ? 'Beginning of the stretch' : 'End of the stretch'}
            aria-valuemin={0}
            aria-valuemax={view.rows}
            aria-valuenow={Math.round(part === 'from' ? view.window.first : view.window.first + view.window.count)}
            onpointerdown={(event) => hold(event, part)}
            onpointermove={move}
            onpointerup={() => (held = undefined)}
            onkeydown={(event) => key(event, part)}
          ></div>
        {/each}
      {/if}
    </div>
    <div class="texts" aria-hidden="true">
      {#each view.isPart ? [] : calendarTicks as { x, text, isLeft } (x)}{#if text}<span
            style:left="{x}px"
            style:transform={isLeft ? 'translateX(-100%)' : undefined}>{text}</span
          >{/if}{/each}
    </div>
  </div>
</section>

<style>
  .strip {
    display: grid;
    grid-template-columns: var(--margin-width) minmax(0, 1fr);
    height: 92px;
  }
  .words {
    padding: 12px 12px 0 14px;
    display: grid;
    grid-template-columns: 1fr auto;
    align-content: start;
    font-size: 13px;
    color: var(--quiet);
  }
  .words strong {
    font-size: 15px;
    color: var(--ink);
  }
  .words span {
    grid-column: 1 / -1;
  }
  .track {
    margin: 14px 58px 0 4px;
    min-width: 0;
  }
  .picture {
    position: relative;
    height: 48px;
  }
  canvas {
    position: absolute;
    width: 100%;
    height: 100%;
  }
  .window {
    position: absolute;
    top: -4px;
    bottom: -4px;
    box-sizing: border-box;
    border: 1.5px solid var(--margin-rule);
    cursor: grab;
    touch-action: none;
  }
  .handle {
    position: absolute;
    top: 10px;
    bottom: 10px;
    width: 7px;
    margin-left: -3.5px;
    background: var(--margin-rule);
    cursor: ew-resize;
    touch-action: none;
  }
  .texts {
    position: relative;
    height: 20px;
    font-size: 12.5px;
    color: var(--quiet);
  }
  .texts span {
    position: absolute;
    top: 5px;
    white-space: nowrap;
  }
  @media (max-width: 700px) {
    .strip {
      grid-template-columns: minmax(0, 1fr);
      height: auto;
      padding-bottom: 10px;
    }
    .track {
      margin: 12px 16px 0;
    }
  }
</style>
