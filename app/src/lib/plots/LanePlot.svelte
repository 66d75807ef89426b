<script lang="ts">
  import { untrack, type Snippet } from 'svelte';
  import type { LedgerBody, LedgerLane } from '$lib/api/ledgers';
  import type { CalendarTick } from '$lib/chart/calendarTicks';
  import { HATCH_PX } from '$lib/chart/hatchLayer';
  import Plot from '$lib/chart/Plot.svelte';
  import { plotGestures, type PlotGestures } from '$lib/chart/plotGestures';
  import { rowsInView, xOfRow } from '$lib/chart/viewWindow';
  import type { BarView } from './barView.svelte';
  import { drawLane } from './drawLane';
  import { axisText } from './axisText';
  import { rowsShort, type EntryModel } from './laneModel';
  import type { LaneScale } from './laneScale';
  import Notes from './Notes.svelte';
  import { sharedExtent } from '$lib/beside/sharedScale.svelte';

  let {
    view,
    lane,
    entries,
    scale,
    calendarTicks,
    isTop,
    gestures,
    notes,
    writeNote,
    onresize,
    short: shortBars,
  }: {
    view: BarView;
    lane: LedgerLane;
    entries: readonly EntryModel[];
    scale: LaneScale;
    calendarTicks: readonly CalendarTick[];
    /** The topmost lane has the texts of the time axis, and the notes. */
    isTop: boolean;
    gestures: PlotGestures;
    notes: LedgerBody['notes'];
    writeNote: (id: string, text: string) => void;
    onresize: (widthPx: number) => void;
    /** What is said where entries have no value yet: which they are, and how many rows each is short of. */
    short: Snippet<[{ model: EntryModel; rows: number }[], number]>;
  } = $props();

  let widthPx = $state(0);

  const bars = $derived(view.bars!);
  const shown = $derived(entries.filter(({ entry, columns }) => !entry.hidden && columns.length > 0));
  const inView = $derived(rowsInView(view.window, view.viewRows));
  const pointerX = $derived(view.pointer === undefined ? undefined : xOfRow(view.window, view.pointer, widthPx));
  const short = $derived(
    shown.map((model) => ({ model, rows: rowsShort(model) })).filter(({ rows }) => rows > inView[0]),
  );
  const mostShort = $derived(Math.max(0, ...short.map(({ rows }) => rows)));
  const hatchEnd = $derived(
    mostShort === 0 ? 0 : Math.min(widthPx * 0.6, xOfRow(view.window, mostShort - 0.5, widthPx)),
  );
  const label = $derived(describe());
  // the topmost lane of a page that stands beside another one may have its scale in common with that
  const onOne = untrack(() => (isTop ? sharedExtent(() => scale.extent) : undefined));
  const shared = () => (isTop && onOne ? onOne() : scale.extent);

  function describe(): string {
    const base = { price: 'Prices as bars', volume: 'Volume as columns', none: 'Lines' }[lane.base];
    const names = shown.flatMap(({ columns }) => columns.map((column) => column.name));
    return `${base} of ${view.source.tape}, ${Math.max(0, Math.min(view.rows, inView[1]) - inView[0])} of ${view.rows} bars${names.length > 0 ? `, with ${names.join(', ')}` : ''}`;
  }

  function resized(px: number): void {
    widthPx = px;
    onresize(px);
  }
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div
  class="canvas"
  role="application"
  aria-label="Plot: arrow keys read bar by bar, plus and minus zoom, 0 shows the whole span"
  tabindex="0"
  use:plotGestures={gestures}
>
  <Plot
    view={view.window}
    extent={shared()}
    second={scale.second}
    options={{ ...scale.options, footPx: short.length > 0 ? HATCH_PX + 3 : 0 }}
    axisTexts={(ticks) => axisText(scale.unit, ticks, lane.decimals)}
    secondTexts={(ticks) => axisText('number', ticks)}
    prefix={lane.prefix}
    suffix={lane.unit && ` ${lane.unit}`}
    {calendarTicks}
    showTexts={isTop}
    {pointerX}
    {label}
    draw={(surface, inks, second) =>
      drawLane({
        surface,
        second,
        inks,
        lane,
        bars,
        isSingle: view.isSingle,
        shown,
        scale,
        rowsShort: mostShort,
        inView,
      })}
    onresize={resized}
  />
  {#if short.length > 0}{@render shortBars(short, Math.max(0, hatchEnd) + 5)}{/if}
  {#if isTop}<Notes time={view.bars!.time} view={view.window} {notes} write={writeNote} {widthPx} />{/if}
  {#if view.measure}
    {@const { from, to } = view.measure}
    {@const [left, right] = [from, to].sort((a, b) => a - b).map((row) => xOfRow(view.window, row, widthPx))}
    <div class="measure" style:left="{left}px" style:width="{right - left}px"></div>
  {/if}
</div>

<style>
  .canvas {
    position: relative;
    min-width: 0;
    min-height: 0;
    overflow: hidden;
    border-left: 4px double var(--margin-rule);
    touch-action: pan-y;
    cursor: crosshair;
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
    .canvas {
      border-left: 0;
      border-top: 4px double var(--margin-rule);
    }
  }
</style>
