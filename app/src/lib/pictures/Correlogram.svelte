<script lang="ts">
  import { drawColumns } from '$lib/chart/columnLayer';
  import type { Surface } from '$lib/chart/layers';
  import { brief, columnOf, type Figures } from './lines';
  import Enlargeable from './Enlargeable.svelte';
  import RowsPlot from './RowsPlot.svelte';
  import type { RowsView } from './rowsView.svelte';

  interface Props {
    title: string;
    /** From lag 0, which is not drawn. */
    values: Figures;
    /** Half the width of the 95 % band: one for all lags, or one a lag from lag 1 on. */
    band: number | null | Figures;
    /** The greatest size that is drawn, where pictures share a scale. */
    scale: number;
    /** Of the lags, from 1 on. */
    view: RowsView;
    /** How far back a lag is, in time, where that is known. */
    lagText: (lag: number) => string;
  }
  let { title, values, band, scale, view, lagText }: Props = $props();

  const FOOT_PX = 16;
  const lags = $derived(values.length - 1);
  $effect(() => view.show(lags));
  const pointed = $derived(view.pointer === undefined ? undefined : view.pointer + 1);
  const shown = $derived(view.ends[1] - view.ends[0]);
  const step = $derived([1, 2, 3, 6, 12, 24, 60, 120].find((one) => shown / one <= 6) ?? 120);
  const halfAt = (lag: number) => (typeof band === 'number' || band === null ? (band ?? NaN) : (band[lag - 1] ?? NaN));
  const isOut = (value: number | null, lag: number) => value !== null && Math.abs(value) > halfAt(lag);
  const outside = $derived(
    values
      .map((value, lag) => ({ value, lag }))
      .filter(({ value, lag }) => lag > 0 && isOut(value, lag))
      .sort((a, b) => Math.abs(b.value!) - Math.abs(a.value!)),
  );
  /** Steps about each lag in view, up its upper edge and back down the lower one. */
  function bandPath(x: (row: number) => number, y: (value: number) => number, widthPx: number): string {
    const inView = Array.from({ length: shown }, (_, at) => view.ends[0] + at);
    const edge = (sign: 1 | -1) =>
      inView.map((at): [number, number, number] => [
        Math.max(0, (x(at - 1) + x(at)) / 2),
        Math.min(widthPx, (x(at) + x(at + 1)) / 2),
        y(sign * halfAt(at + 1)),
      ]);
    const upper = edge(1).map(([from, to, top]) => `${from},${top} ${to},${top}`);
    const lower = edge(-1)
      .reverse()
      .map(([from, to, bottom]) => `${to},${bottom} ${from},${bottom}`);
    return `M${[...upper, ...lower].join(' L')}Z`;
  }
  const column = $derived(columnOf(values.slice(1)));
  const only = (test: (value: number, lag: number) => boolean) =>
    column.map((value, at) => (test(value, at + 1) ? value : NaN));
  const inner = $derived(only((value, lag) => !isOut(value, lag) && lag !== pointed));
  const outer = $derived(only((value, lag) => isOut(value, lag) && lag !== pointed));

  function draw(surface: Surface): void {
    drawColumns(surface, inner, { colour: 'var(--volume)' });
    drawColumns(surface, outer, { colour: 'var(--blue)' });
    if (pointed !== undefined)
      drawColumns(
        surface,
        only((_, lag) => lag === pointed),
        { colour: 'var(--rust)' },
      );
  }
</script>

<Enlargeable label="the {title}">
  <div class="correlogram">
    <h3>{title}</h3>
    <RowsPlot label="{title}, {lags} lags" {view} heightPx={126} footPx={FOOT_PX} extent={[-scale, scale]} {draw}>
      {#snippet under(x, y, widthPx)}
        {#if typeof band === 'number'}<rect class="band" width={widthPx} y={y(band)} height={y(-band) - y(band)} />
        {:else if band !== null}<path class="band" d={bandPath(x, y, widthPx)} />{/if}
      {/snippet}
      {#snippet over(x, y, widthPx, heightPx)}
        <line class="zero" x1="0" x2={widthPx} y1={y(0)} y2={y(0)} />
        {#each Array.from({ length: Math.floor(lags / step) }, (_, at) => (at + 1) * step) as lag (lag)}
          {#if lag - 1 >= view.ends[0] && lag - 1 < view.ends[1]}<text
              x={x(lag - 1)}
              y={heightPx - 3}
              text-anchor="middle">{lag}</text
            >{/if}
        {/each}
      {/snippet}
    </RowsPlot>
    <p class="says">
      {#if pointed !== undefined && pointed <= lags}
        lag <strong>{pointed}</strong> ({lagText(pointed)}): {brief(values[pointed])}
      {:else if outside.length === 0}
        No lag is outside the band.
      {:else}
        outside the band: {#each outside.slice(0, 6) as { lag, value }, at (lag)}{at > 0 ? ', ' : ''}<strong
            >{lag}</strong
          >
          ({brief(value)}){/each}{outside.length > 6 ? ` and ${outside.length - 6} more` : ''}; of {lags}, {Math.max(
          1,
          Math.round(lags / 20),
        )} would by chance
      {/if}
    </p>
  </div>
</Enlargeable>

<style>
  .correlogram {
    min-width: 0;
  }
  .band {
    fill: var(--paper-raised);
  }
  .zero {
    stroke: var(--ink);
  }
  text {
    font-size: 12px;
    fill: var(--quiet);
  }
  .says {
    margin: 0;
    min-height: 2.8em;
    font-size: 13px;
    color: var(--quiet);
  }
</style>
