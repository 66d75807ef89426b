<script lang="ts">
  import { drawColumns } from '$lib/chart/columnLayer';
  import type { Surface } from '$lib/chart/layers';
  import { drawLine } from '$lib/chart/lineLayer';
  import { brief, normalDensity, type Figures } from '$lib/pictures/lines';
  import Enlargeable from '$lib/pictures/Enlargeable.svelte';
  import RowsPlot from '$lib/pictures/RowsPlot.svelte';
  import { RowsView } from '$lib/pictures/rowsView.svelte';

  interface Props {
    histogram: { edges: Figures; counts: Figures };
    /** `zeros` where it is said that most values are 0. */
    summary: { count: number; zeros?: number; mean: number | null; stdev: number | null };
  }
  let { histogram, summary }: Props = $props();

  const view = new RowsView();
  const edges = $derived(histogram.edges as number[]);
  const counts = $derived(Float64Array.from(histogram.counts as number[]));
  $effect(() => view.show(counts.length));
  /** What a normal variable of the same mean and deviation would have in each bin; of equal values there is none. */
  const expected = $derived(
    counts.map((_, bin) => {
      const [low, high] = [edges[bin], edges[bin + 1]];
      return summary.mean === null || !summary.stdev || high === low
        ? NaN
        : normalDensity((low + high) / 2, summary.mean, summary.stdev) * summary.count * (high - low);
    }),
  );
  const most = $derived([...counts, ...expected].reduce((a, b) => (b > a ? b : a), 0));
  const [low, high] = $derived([edges[view.ends[0]], edges[Math.min(edges.length - 1, view.ends[1])]]);

  function draw(surface: Surface): void {
    drawColumns(surface, counts, { colour: 'var(--volume)', strength: 0.55 });
    drawLine(surface, expected, { colour: 'var(--rust)', widthPx: 1.4 });
  }
</script>

<Enlargeable label="the shape">
  <RowsPlot
    label="Counts of values, with the normal curve of the same mean and deviation"
    {view}
    heightPx={130}
    extent={[0, most]}
    fromZero
    {draw}
  />
  <p class="ends"><span>{brief(low)}</span><span>{brief(high)}</span></p>
  <p class="says">
    {#if view.pointer !== undefined}
      {brief(edges[view.pointer])} to {brief(edges[view.pointer + 1])}:
      <strong>{counts[view.pointer].toLocaleString('en')}</strong>{Number.isNaN(expected[view.pointer])
        ? ''
        : `, a normal variable has ${brief(expected[view.pointer])}`}
    {/if}
  </p>
  {#if summary.zeros !== undefined && summary.zeros > summary.count / 2}<p class="zeros">
      {summary.zeros.toLocaleString('en')} of {summary.count.toLocaleString('en')} values are 0.
    </p>{/if}
</Enlargeable>

<style>
  .ends {
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
    color: var(--quiet);
  }
  .zeros {
    margin: 2px 0;
    color: var(--wrong);
    font-weight: 600;
  }
</style>
