<script lang="ts">
  import { plotGestures } from '$lib/chart/plotGestures';
  import { AXIS_PX } from '$lib/chart/plotSize';
  import { rowsAboutView, xOfRow } from '$lib/chart/viewWindow';
  import Frame from './Frame.svelte';
  import { extentOfFigures, linePath, type Figures } from './lines';
  import type { SeriesView } from './seriesView.svelte';

  interface Props {
    label: string;
    values: Figures;
    view: SeriesView;
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

  let wholePx = $state(0);
  const plotPx = $derived(Math.max(1, wholePx - AXIS_PX));
  const rows = $derived(rowsAboutView(view.window, values.length));
  const shown = $derived(values.slice(...rows));
  const x = (at: number, widthPx: number) => xOfRow(view.window, at, widthPx);
  const isIn = (at: number) => at >= rows[0] && at < rows[1];
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div
  class="series"
  role="application"
  aria-label={label}
  tabindex="0"
  bind:clientWidth={wholePx}
  use:plotGestures={view.gestures(plotPx)}
>
  <Frame {label} {heightPx} extent={extentOfFigures(shown)} footPx={showsTexts ? 18 : 0}>
    {#snippet children(widthPx, y)}
      {#each marks.filter(({ at }) => isIn(at)) as { at, text } (at)}
        <line class="mark" x1={x(at, widthPx)} x2={x(at, widthPx)} y1="0" y2={heightPx} />
        {#if showsTexts}<text x={x(at, widthPx) + 4} y={heightPx - 4}>{text}</text>{/if}
      {/each}
      {#if typeof mean === 'number'}<line class="mean" x1="0" x2={widthPx} y1={y(mean)} y2={y(mean)} />{/if}
      {#if view.measure}
        {@const ends = [view.measure.from, view.measure.to].map((at) => x(at, widthPx)).sort((a, b) => a - b)}
        <rect class="measure" x={ends[0]} width={Math.max(1, ends[1] - ends[0])} y="0" height={heightPx} />
      {/if}
      <path d={linePath(shown, (at) => x(at + rows[0], widthPx), y)} stroke={ink} />
      {#each [tops, bottoms] as turns, kind (kind)}
        {#each turns as at (at)}
          {#if isIn(at) && values[at] !== null}
            <circle class:bottom={kind === 1} cx={x(at, widthPx)} cy={y(values[at])} r="2.6" />
          {/if}
        {/each}
      {/each}
      {#if view.pointer !== undefined}<line
          class="pointer"
          x1={x(view.pointer, widthPx)}
          x2={x(view.pointer, widthPx)}
          y1="0"
          y2={heightPx}
        />{/if}
    {/snippet}
  </Frame>
</div>

<style>
  .series {
    touch-action: pan-y;
    cursor: crosshair;
  }
  path {
    fill: none;
    stroke-width: 1.3;
  }
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
  .pointer {
    stroke: var(--ink);
    stroke-dasharray: 1 2;
  }
  circle {
    fill: var(--rust);
  }
  circle.bottom {
    fill: var(--paper);
    stroke: var(--rust);
    stroke-width: 1.4;
  }
  text {
    font-size: 12px;
    font-style: italic;
    fill: var(--quiet);
  }
</style>
