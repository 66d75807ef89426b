<script lang="ts">
  import type { Surface } from '$lib/chart/layers';
  import { drawDots, drawLine } from '$lib/chart/lineLayer';
  import { brief, normalPoints, type Figures } from '$lib/pictures/lines';
  import Enlargeable from '$lib/pictures/Enlargeable.svelte';
  import RowsPlot from '$lib/pictures/RowsPlot.svelte';
  import { RowsView } from '$lib/pictures/rowsView.svelte';

  interface Props {
    normal: { quantiles: Figures; values: Figures };
    summary: { mean: number | null; stdev: number | null };
  }
  let { normal, summary }: Props = $props();

  const view = new RowsView();
  const points = $derived(normalPoints(normal));
  const values = $derived(Float64Array.from(points, ([, value]) => value));
  const far = $derived(Math.max(1, ...points.map(([quantile]) => Math.abs(quantile))));
  /** Values stand where a normal variable would have them. */
  const places = $derived(
    Float64Array.from(points, ([quantile]) => ((quantile + far) / (2 * far)) * Math.max(0, points.length - 1)),
  );
  $effect(() => view.show(points.length, places));
  const line = $derived(
    Float64Array.from(points, ([quantile]) => (summary.mean ?? 0) + quantile * (summary.stdev ?? 0)),
  );

  function draw(surface: Surface): void {
    drawLine(surface, line, { colour: 'var(--rust)', widthPx: 1 });
    drawDots(surface, values, { colour: 'var(--blue)', widthPx: 1.2 });
  }
</script>

<Enlargeable label="the normal plot">
  <RowsPlot
    label="Values in order against those of a normal variable"
    {view}
    heightPx={130}
    extent={values.length > 0 ? [values[0], values[values.length - 1]] : undefined}
    {draw}
  />
  <p class="ends"><span>−{far.toFixed(1)}</span><span>deviations</span><span>{far.toFixed(1)}</span></p>
  <p class="says">
    {#if view.pointer !== undefined}
      {brief(values[view.pointer])}, where a normal variable has {brief(line[view.pointer])}
    {/if}
  </p>
</Enlargeable>

<style>
  p {
    display: flex;
    justify-content: space-between;
    margin: 0 58px 0 0;
    font-size: 12px;
    color: var(--quiet);
  }
  .says {
    margin: 0;
    min-height: 1.4em;
    font-size: 13px;
  }
</style>
