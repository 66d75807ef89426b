<script lang="ts">
  import { asRange, extentOf } from '$lib/chart/extent';
  import type { Surface } from '$lib/chart/layers';
  import { drawDots, drawLine } from '$lib/chart/lineLayer';
  import { rowsAboutView } from '$lib/chart/viewWindow';
  import { columnOf, type Figures } from '$lib/pictures/lines';
  import Enlargeable from '$lib/pictures/Enlargeable.svelte';
  import RowsPlot from '$lib/pictures/RowsPlot.svelte';
  import type { RowsView } from '$lib/pictures/rowsView.svelte';

  interface Props {
    label: string;
    values: Figures;
    view: RowsView;
    heightPx?: number;
    ink?: string;
    /** A line across, at the mean. */
    mean?: number | null;
    /** Marks of the calendar: which value each stands at, and its text. */
    marks?: readonly { at: number; text: string }[];
    /** Whether the texts of the marks are written. */
    showsTexts?: boolean;
    /** Values at which it turns. */
    tops?: readonly number[];
    bottoms?: readonly number[];
  }
  let {
    label,
    values,
    view,
    heightPx = 110,
    ink = 'var(--ink)',
    mean,
    marks = [],
    showsTexts = false,
    tops = [],
    bottoms = [],
  }: Props = $props();

  const footPx = $derived(showsTexts ? 18 : 0);
  const column = $derived(columnOf(values));
  const extent = $derived(extentOf(asRange(column), ...rowsAboutView(view.window, column.length)));
  const onlyAt = (rows: readonly number[]) => {
    const out = new Float64Array(column.length).fill(NaN);
    for (const row of rows) out[row] = column[row];
    return out;
  };
  const [high, low] = $derived([onlyAt(tops), onlyAt(bottoms)]);

  function draw(surface: Surface): void {
    drawLine(surface, column, { colour: ink, widthPx: 1.3 });
    if (tops.length + bottoms.length === 0) return;
    drawDots(surface, high, { colour: 'var(--rust)', widthPx: 2 });
    // a bottom is a ring: a dot with paper in it
    drawDots(surface, low, { colour: 'var(--rust)', widthPx: 2.4 });
    drawDots(surface, low, { colour: 'var(--paper)', widthPx: 1 });
  }
</script>

<Enlargeable label={label.toLowerCase()}>
  <div class="series">
    <RowsPlot {label} {view} {heightPx} {footPx} {extent} {draw}>
      {#snippet under(x, y, widthPx, drawnPx)}
        {#each marks as { at, text } (at)}
          <line class="mark" x1={x(at)} x2={x(at)} y1="0" y2={drawnPx} />
          {#if showsTexts}<text x={x(at) + 4} y={drawnPx - 4}>{text}</text>{/if}
        {/each}
        {#if typeof mean === 'number'}<line class="mean" x1="0" x2={widthPx} y1={y(mean)} y2={y(mean)} />{/if}
        {#if view.measure}
          {@const ends = [view.measure.from, view.pointer ?? view.measure.to].map(x).sort((a, b) => a - b)}
          <rect class="measure" x={ends[0]} width={Math.max(1, ends[1] - ends[0])} y="0" height={drawnPx - footPx} />
        {/if}
      {/snippet}
    </RowsPlot>
  </div>
</Enlargeable>

<style>
  .mark {
    stroke: var(--rule);
  }
  .mean {
    stroke: var(--rust);
    stroke-dasharray: 4 3;
  }
  .measure {
    fill: var(--span);
    opacity: 0.7;
  }
  text {
    font-size: 12px;
    font-style: italic;
    fill: var(--quiet);
  }
</style>
