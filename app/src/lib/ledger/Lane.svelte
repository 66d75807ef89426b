<script lang="ts">
  import { type LedgerLane } from '$lib/api/ledgers';
  import Plot from '$lib/chart/Plot.svelte';
  import { HATCH_PX } from '$lib/chart/hatchLayer';
  import { plotGestures, type PlotGestures } from '$lib/chart/plotGestures';
  import type { CalendarTick } from '$lib/chart/calendarTicks';
  import { rowsInView, xOfRow } from '$lib/chart/viewWindow';
  import { drawLane } from './drawLane';
  import LaneMargin from './LaneMargin.svelte';
  import { entryModels, rowsShort } from './laneModel';
  import { laneScale } from './laneScale';
  import LaneResizer from './LaneResizer.svelte';
  import type { LedgerSession } from './ledgerSession.svelte';
  import Notes from './Notes.svelte';
  import ShortEntries from './ShortEntries.svelte';

  let {
    session,
    lane,
    calendarTicks,
    isTop,
    gestures,
    onresize,
  }: {
    session: LedgerSession;
    lane: LedgerLane;
    calendarTicks: readonly CalendarTick[];
    isTop: boolean;
    gestures: PlotGestures;
    onresize: (widthPx: number) => void;
  } = $props();

  let widthPx = $state(0);

  const bars = $derived(session.bars!);
  const entries = $derived(entryModels(lane, session.computed.shown));
  const shown = $derived(entries.filter(({ entry, columns }) => !entry.hidden && columns.length > 0));
  const inView = $derived(rowsInView(session.view, session.viewRows));
  const scale = $derived(laneScale(lane, bars, entries, ...inView));
  const pointerX = $derived(session.pointer === undefined ? undefined : xOfRow(session.view, session.pointer, widthPx));
  const short = $derived(
    shown
      .map((model) => ({ model, rows: rowsShort(model) + model.entry.shift }))
      .filter(({ rows }) => rows > inView[0]),
  );
  const mostShort = $derived(Math.max(0, ...short.map(({ rows }) => rows)));
  const hatchEnd = $derived(
    mostShort === 0 ? 0 : Math.min(widthPx * 0.6, xOfRow(session.view, mostShort - 0.5, widthPx)),
  );
  const label = $derived(describe());
  const name = $derived(
    { price: 'Price lane', volume: 'Volume lane', none: `Lane ${session.body.lanes.indexOf(lane) + 1}` }[lane.base],
  );

  function describe(): string {
    const base = { price: 'Prices as bars', volume: 'Volume as columns', none: 'Lines' }[lane.base];
    const names = shown.flatMap(({ columns }) => columns.map((column) => column.name));
    return `${base} of ${session.body.tape}, ${Math.max(0, Math.min(session.rows, inView[1]) - inView[0])} of ${session.rows} bars${names.length > 0 ? `, with ${names.join(', ')}` : ''}`;
  }

  function resized(px: number): void {
    widthPx = px;
    onresize(px);
  }
</script>

<section class="lane" class:collapsed={lane.collapsed} style:--weight={lane.weight} aria-label={name}>
  <LaneMargin {session} {lane} {entries} {scale} {name} />
  {#if lane.collapsed}
    <div class="canvas folded"></div>
  {:else}
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div
      class="canvas"
      role="application"
      aria-label="Plot: arrow keys read bar by bar, plus and minus zoom, 0 shows the whole span"
      tabindex="0"
      use:plotGestures={gestures}
    >
      <Plot
        view={session.view}
        extent={scale.extent}
        second={scale.second}
        options={{ ...scale.options, footPx: short.length > 0 ? HATCH_PX + 3 : 0 }}
        unit={scale.unit}
        decimals={lane.decimals}
        prefix={lane.prefix}
        suffix={lane.unit && ` ${lane.unit}`}
        {calendarTicks}
        showTexts={isTop}
        {pointerX}
        {label}
        draw={(surface, inks, second) =>
          drawLane({ surface, second, inks, lane, bars, shown, scale, rowsShort: mostShort, inView })}
        onresize={resized}
      />
      {#if short.length > 0}
        <ShortEntries {session} {short} left={Math.max(0, hatchEnd) + 5} />
      {/if}
      {#if isTop}<Notes {session} {widthPx} />{/if}
      {#if session.measure}
        {@const { from, to } = session.measure}
        {@const [left, right] = [from, to].sort((a, b) => a - b).map((row) => xOfRow(session.view, row, widthPx))}
        <div class="measure" style:left="{left}px" style:width="{right - left}px"></div>
      {/if}
    </div>
  {/if}
  <LaneResizer {session} {lane} />
</section>

<style>
  .lane {
    position: relative;
    display: grid;
    grid-template-columns: var(--margin-width) minmax(0, 1fr);
    flex: var(--weight) 1 0;
    min-height: 92px;
    grid-template-rows: minmax(0, 1fr);
    border-bottom: 1px solid var(--rule);
  }
  .lane.collapsed {
    flex: none;
    min-height: 0;
  }
  .canvas {
    position: relative;
    min-width: 0;
    min-height: 0;
    overflow: hidden;
    border-left: 4px double var(--margin-rule);
    touch-action: pan-y;
    cursor: crosshair;
  }
  .canvas.folded {
    cursor: default;
  }
  .canvas:focus-visible {
    outline-offset: -2px;
  }
  .measure {
    position: absolute;
    top: 0;
    bottom: 0;
    background: var(--blue);
    opacity: 0.1;
    pointer-events: none;
  }
  @media (max-width: 700px) {
    .lane {
      grid-template-columns: minmax(0, 1fr);
      grid-template-rows: auto 170px;
      flex: none;
    }
    .lane.collapsed {
      grid-template-rows: auto 0;
    }
    .canvas {
      border-left: 0;
      border-top: 4px double var(--margin-rule);
    }
  }
</style>
