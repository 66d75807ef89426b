<script lang="ts">
  import type { Surface } from '$lib/chart/layers';
  import { drawLine } from '$lib/chart/lineLayer';
  import { brief, columnOf, extentOfFigures } from '$lib/pictures/lines';
  import Enlargeable from '$lib/pictures/Enlargeable.svelte';
  import RowsPlot from '$lib/pictures/RowsPlot.svelte';
  import { RowsView } from '$lib/pictures/rowsView.svelte';
  import { answerOf, type Backtests } from './backtests.svelte';
  import { dashes, inks } from './models';

  interface Props {
    backtests: Backtests;
    models: readonly string[];
    horizon: number;
    focus: number;
  }
  let { backtests, models, horizon, focus }: Props = $props();

  const view = new RowsView();
  const all = $derived(models.map((model) => backtests.all.get(model)));
  const figures = $derived(all.map((one) => answerOf(one)?.ahead.map(({ against }) => against) ?? []));
  const computing = $derived(all.filter((one) => one === undefined || one.state === 'computing').length);
  $effect(() => view.show(horizon));
  const lines = $derived(figures.map(columnOf));

  function draw(surface: Surface): void {
    lines.forEach((line, at) => {
      const dash = dashes(at).split(' ').filter(Boolean).map(Number);
      if (models[at] !== 'last') drawLine(surface, line, { colour: inks(at), widthPx: at === focus ? 2.4 : 1.5, dash });
    });
  }
</script>

<Enlargeable label="the error by horizon">
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
        .flatMap((model, at) => (figures[at].length > 0 ? [`${model} ${brief(figures[at][view.pointer!])}`] : []))
        .join(', ')}
    {:else}<span>1</span><span class="working" role="status"
        >{computing > 0 ? `Backtesting ${computing} of ${models.length}…` : ''}</span
      ><span class="end">{horizon} bars ahead</span>{/if}
  </p>
</Enlargeable>

<style>
  .one {
    stroke: var(--ink);
    stroke-dasharray: 3 3;
  }
  span {
    white-space: nowrap;
  }
  p {
    display: flex;
    justify-content: space-between;
    gap: 8px;
    min-height: 2.8em;
    margin: 0 58px 0 0;
    font-size: 12px;
    color: var(--quiet);
  }
</style>
