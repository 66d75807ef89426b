<script lang="ts">
  import type { LedgerLane } from '$lib/api/ledgers';
  import { drawCandles } from '$lib/chart/barLayer';
  import { drawColumns } from '$lib/chart/columnLayer';
  import { drawFlags } from '$lib/chart/flagLayer';
  import { drawHatch, HATCH_PX } from '$lib/chart/hatchLayer';
  import { DASHES, memberStrength, type Inks } from '$lib/chart/inks';
  import type { Surface } from '$lib/chart/layers';
  import { drawLine } from '$lib/chart/lineLayer';
  import Plot from '$lib/chart/Plot.svelte';
  import { plotGestures, type PlotGestures } from '$lib/chart/plotGestures';
  import type { Turn } from '$lib/chart/turns';
  import { rowsInView, xOfRow } from '$lib/chart/viewWindow';
  import LaneMargin from './LaneMargin.svelte';
  import { entryModels, laneExtent, laneUnit, rowsShort } from './laneModel';
  import type { LedgerSession } from './ledgerSession.svelte';

  let {
    session,
    lane,
    turns,
    isTop,
    gestures,
    onresize,
  }: {
    session: LedgerSession;
    lane: LedgerLane;
    turns: readonly Turn[];
    isTop: boolean;
    gestures: PlotGestures;
    onresize: (widthPx: number) => void;
  } = $props();

  let widthPx = $state(0);

  const bars = $derived(session.bars!);
  const entries = $derived(entryModels(lane, session.results));
  const shown = $derived(entries.filter(({ entry, columns }) => !entry.hidden && columns.length > 0));
  const unit = $derived(laneUnit(lane, entries));
  const inView = $derived(rowsInView(session.view, session.rows));
  const extent = $derived(laneExtent(lane, bars, entries, ...inView));
  const pointerX = $derived(session.pointer === undefined ? undefined : xOfRow(session.view, session.pointer, widthPx));
  const short = $derived(
    shown
      .map((model) => ({ name: model.columns[0].name.replace(/\[.*/, ''), rows: rowsShort(model) }))
      .filter(({ rows }) => rows > inView[0]),
  );
  const hatchEnd = $derived(
    short.length === 0
      ? 0
      : Math.min(widthPx * 0.6, xOfRow(session.view, Math.max(...short.map(({ rows }) => rows)) - 0.5, widthPx)),
  );
  const label = $derived(describe());

  function describe(): string {
    const base = { price: 'Prices as bars', volume: 'Volume as columns', none: 'Lines' }[lane.base];
    const names = shown.flatMap(({ columns }) => columns.map(({ name }) => name));
    return `${base} of ${session.body.tape}, ${inView[1] - inView[0]} of ${session.rows} bars${names.length > 0 ? `, with ${names.join(', ')}` : ''}`;
  }

  function draw(surface: Surface, inks: Inks): void {
    if (lane.base === 'price') drawCandles(surface, { ...bars, summary: bars.priceSummary }, inks);
    if (lane.base === 'volume') drawColumns(surface, bars.volume, bars.volumeSummary, inks.volume);
    if (lane.base === 'price') drawFlags(surface, bars.time, bars.flaggedTime, bars.flaggedPrice, inks.flag);
    drawHatch(surface, Math.max(0, ...short.map(({ rows }) => rows)), inks.rule);
    for (const { entry, columns } of shown)
      columns.forEach(({ values, summary }, index) =>
        drawLine(surface, values, summary, {
          colour: inks.entries[entry.ink],
          widthPx: 1.7,
          dash: DASHES[entry.ink],
          strength: memberStrength(index, columns.length),
        }),
      );
  }

  function resized(px: number): void {
    widthPx = px;
    onresize(px);
  }
</script>

<section
  class="lane"
  style:--weight={lane.weight}
  aria-label={lane.base === 'none' ? 'Lane' : lane.base === 'price' ? 'Price lane' : 'Volume lane'}
>
  <LaneMargin {session} {lane} {entries} {unit} />
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
      {extent}
      fromZero={lane.base === 'volume'}
      footPx={short.length > 0 ? HATCH_PX + 3 : 0}
      {unit}
      {turns}
      showTexts={isTop}
      {pointerX}
      {label}
      {draw}
      onresize={resized}
    />
    {#if short.length > 0}
      <p class="short" style:left="{Math.max(0, hatchEnd) + 5}px">
        {#each short as { name, rows }, index (name)}{index > 0 ? ', ' : ''}{name}: {rows}
          {rows === 1 ? 'bar' : 'bars'} short{/each}
      </p>
    {/if}
  </div>
</section>

<style>
  .lane {
    display: grid;
    grid-template-columns: var(--margin-width) minmax(0, 1fr);
    flex: var(--weight) 1 0;
    min-height: 92px;
    grid-template-rows: minmax(0, 1fr);
    border-bottom: 1px solid var(--rule);
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
  .canvas:focus-visible {
    outline-offset: -2px;
  }
  .short {
    position: absolute;
    bottom: 0;
    margin: 0;
    font-size: 12px;
    line-height: 14px;
    white-space: nowrap;
    font-style: italic;
    color: var(--quiet);
    pointer-events: none;
  }
  @media (max-width: 700px) {
    .lane {
      grid-template-columns: minmax(0, 1fr);
      grid-template-rows: auto 170px;
      flex: none;
    }
    .canvas {
      border-left: 0;
      border-top: 4px double var(--margin-rule);
    }
  }
</style>
