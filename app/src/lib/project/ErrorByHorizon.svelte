<script lang="ts">
  import type { ToldAccuracy } from '$lib/api/projections';
  import type { Surface } from '$lib/chart/layers';
  import { drawLine } from '$lib/chart/lineLayer';
  import { brief, columnOf, extentOfFigures } from '$lib/pictures/lines';
  import RowsPlot from '$lib/pictures/RowsPlot.svelte';
  import { RowsView } from '$lib/pictures/rowsView.svelte';
  import { dashes, inks } from './models';

  let { accuracy, models, focus }: { accuracy: ToldAccuracy; models: readonly string[]; focus: number } = $props();

  const view = new RowsView();
  const figures = $derived(
    models.map(
      (model) => accuracy.models.find((one) => one.model === model)?.ahead.map(({ against }) => against) ?? [],
    ),
  );
  const count = $derived(Math.max(1, ...figures.map((line) => line.length)));
  $effect(() => view.show(count));
  const lines = $derived(figures.map(columnOf));

  function draw(surface: Surface): void {
    lines.forEach((line, at) => {
      const dash = dashes(at).split(' ').filter(Boolean).map(Number);
      if (models[at] !== 'last') drawLine(surface, line, { colour: inks(at), widthPx: at === focus ? 2.4 : 1.5, dash });
    });
  }
</script>

<RowsPlot
  label="Error by horizon, relative to the last value"
  {view}
  heightPx={150}
  extent={extentOfFigures(...figures, [0.9, 1.1])}
  {draw}
>
  {#snippet under(_x, y, widthPx)}<line class="one" x1="0" x2={widthPx} y1={y(1)} y2={y(1)} />{/snippet}
</RowsPlot>
<p>
  {#if view.pointer !== undefined}
    {view.pointer + 1} ahead: {models
      .map((model, at) => `${model} ${brief(figures[at][view.pointer!] ?? null)}`)
      .join(', ')}
  {:else}<span>1</span><span class="end">{count} bars ahead</span>{/if}
</p>

<style>
  .one {
    stroke: var(--ink);
    stroke-dasharray: 3 3;
  }
  p {
    display: flex;
    justify-content: space-between;
    min-height: 2.8em;
    margin: 0 58px 0 0;
    font-size: 12px;
    color: var(--quiet);
  }
</style>
