<script lang="ts">
  import { asRange, extentOf } from '$lib/chart/extent';
  import { eachPixelColumn } from '$lib/chart/layers';
  import { readInks } from '$lib/chart/inks';
  import { priceScale } from '$lib/chart/priceScale';
  import { momentText, ticksInView } from '$lib/chart/calendarTicks';
  import { pxPerRow, wholeSpan, xOfRow } from '$lib/chart/viewWindow';
  import { paper } from '$lib/components/paper.svelte';
  import type { LedgerBody } from '$lib/api/ledgers';
  import type { LedgerSession } from './ledgerSession.svelte';

  let { session }: { session: LedgerSession } = $props();

  let canvas: HTMLCanvasElement;
  let widthPx = $state(0);
  let heightPx = $state(0);
  let held: { part: 'from' | 'to' | 'window'; x: number; first: number; end: number } | undefined;

  const bars = $derived(session.bars!);
  // by itself, since the view changes with each step one pans and the axis does not: the strip is then left as it is
  const trueTime = $derived(session.view.trueTime);
  const whole = $derived(wholeSpan(session.rows, trueTime));
  const calendarTicks = $derived(
    widthPx > 0 ? ticksInView(whole, bars.time, session.days, session.calendar, widthPx) : [],
  );
  const pxPerPlace = $derived(widthPx / Math.max(1, session.rows));
  const left = $derived(session.view.first * pxPerPlace);
  const width = $derived(Math.max(4, session.view.count * pxPerPlace));
  const spanText = $derived(
    session.rows === 0
      ? 'no bars'
      : `${momentText(bars.time[0], session.calendar, false)} to ${momentText(bars.time[session.rows - 1], session.calendar, false)}`,
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
    const y = priceScale(extentOf(ranged, 0, session.rows), heightPx - 2);
    const style = getComputedStyle(canvas);
    context.fillStyle = style.getPropertyValue('--span');
    const roomPx = pxPerRow(whole, widthPx);
    const columnPx = Math.max(1, Math.ceil(roomPx));
    if (roomPx >= 1) {
      for (let row = 0; row < session.rows; row++)
        if (!Number.isNaN(bars.close[row]))
          context.fillRect(xOfRow(whole, row, widthPx) - roomPx / 2, y(bars.close[row]), columnPx, heightPx);
    } else
      eachPixelColumn({ view: whole, widthPx }, 1, session.rows, (x, from, to) => {
        const extent = extentOf(ranged, from, to);
        if (extent) context.fillRect(x, y(extent[1]), 1, heightPx);
      });
    context.fillStyle = readInks(canvas).rule;
    for (const { x, text } of calendarTicks) if (text) context.fillRect(Math.round(x), heightPx - 5, 1, 5);
  });

  function hold(event: PointerEvent, part: 'from' | 'to' | 'window'): void {
    event.stopPropagation();
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    held = { part, x: event.clientX, first: session.view.first, end: session.view.first + session.view.count };
  }

  function move(event: PointerEvent): void {
    if (!held) return;
    const by = (event.clientX - held.x) / pxPerPlace;
    if (held.part === 'window') session.look({ ...session.view, first: held.first + by });
    if (held.part === 'from')
      session.look({
        ...session.view,
        first: Math.min(held.first + by, held.end - 8),
        count: held.end - Math.min(held.first + by, held.end - 8),
      });
    if (held.part === 'to') session.look({ ...session.view, first: held.first, count: held.end + by - held.first });
  }

  function jump(event: PointerEvent): void {
    const place = (event.clientX - canvas.getBoundingClientRect().left) / pxPerPlace;
    session.look({ ...session.view, first: place - session.view.count / 2 });
  }

  function key(event: KeyboardEvent, part: 'from' | 'to' | 'window'): void {
    const direction = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (!direction) return;
    event.preventDefault();
    const { view } = session;
    const { first, count } = view;
    const by = direction * Math.max(1, count * 0.1);
    if (part === 'window') session.look({ ...view, first: first + by });
    else if (part === 'from') session.look({ ...view, first: first + by, count: count - by });
    else session.look({ ...view, count: count + by });
  }
</script>

<section class="strip" aria-label="The whole span">
  <div class="words">
    <strong>The whole span</strong>
    <button type="button" class="aside" onclick={() => session.lookAtAll()}>show all</button>
    <span>{spanText}</span>
    <span
      >{session.rows.toLocaleString('en')}
      {session.rows === 1 ? 'bar' : 'bars'}
      <select
        class="word axis"
        aria-label="Time axis"
        value={session.body.axis}
        onchange={(event) => session.setAxis(event.currentTarget.value as LedgerBody['axis'])}
      >
        <option value="bars">side by side</option>
        <option value="time">in true time</option>
      </select></span
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
      <div
        class="window"
        role="slider"
        tabindex="0"
        aria-label="Stretch in view"
        aria-valuemin={0}
        aria-valuemax={session.rows}
        aria-valuenow={Math.round(session.view.first)}
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
          aria-valuemax={session.rows}
          aria-valuenow={Math.round(part === 'from' ? session.view.first : session.view.first + session.view.count)}
          onpointerdown={(event) => hold(event, part)}
          onpointermove={move}
          onpointerup={() => (held = undefined)}
          onkeydown={(event) => key(event, part)}
        ></div>
      {/each}
    </div>
    <div class="texts" aria-hidden="true">
      {#each calendarTicks as { x, text } (x)}{#if text}<span style:left="{x}px">{text}</span>{/if}{/each}
    </div>
  </div>
</section>

<style>
  .axis {
    appearance: none;
    background-image: none;
    padding-right: 0;
    cursor: pointer;
    field-sizing: content;
  }
  .axis option {
    color: var(--ink);
    background: var(--paper);
  }
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
