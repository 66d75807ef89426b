<script lang="ts">
  import type { ToldExamination } from '$lib/api/examinations';
  import Frame from './Frame.svelte';
  import { brief, normalDensity } from './lines';

  let { histogram, summary }: Pick<ToldExamination, 'histogram' | 'summary'> = $props();

  const edges = $derived(histogram.edges as number[]);
  const counts = $derived(histogram.counts as number[]);
  const [low, high] = $derived([edges[0], edges[edges.length - 1]]);
  const width = $derived(edges.length > 1 ? edges[1] - edges[0] : 0);
  const density = (x: number) =>
    summary.mean === null || !summary.stdev ? 0 : normalDensity(x, summary.mean, summary.stdev) * summary.count * width;
  const most = $derived(Math.max(...counts, summary.mean === null ? 0 : density(summary.mean)));
  const x = (value: number, widthPx: number) => (high > low ? (value - low) / (high - low) : 0.5) * widthPx;
  const curve = (widthPx: number, y: (value: number) => number) =>
    Array.from({ length: 81 }, (_, at) => {
      const value = low + ((high - low) * at) / 80;
      return `${at === 0 ? 'M' : 'L'}${x(value, widthPx).toFixed(1)} ${y(density(value)).toFixed(1)}`;
    }).join('');
</script>

<Frame
  label="Counts of values, with the normal curve of the same mean and deviation"
  heightPx={130}
  extent={[0, most]}
  fromZero
>
  {#snippet children(widthPx, y)}
    {#each counts as count, bin (bin)}
      {@const left = x(edges[bin], widthPx)}
      <rect
        x={left}
        width={Math.max(1, x(edges[bin + 1], widthPx) - left - (counts.length < 60 ? 1 : 0))}
        y={y(count)}
        height={Math.max(0, y(0) - y(count))}
      />
    {/each}
    {#if width > 0}<path d={curve(widthPx, y)} />{/if}
  {/snippet}
</Frame>
<p class="ends"><span>{brief(low)}</span><span>{brief(high)}</span></p>
{#if summary.zeros > summary.count / 2}<p class="zeros">
    {summary.zeros.toLocaleString('en')} of {summary.count.toLocaleString('en')} values are 0.
  </p>{/if}

<style>
  rect {
    fill: var(--span);
  }
  path {
    fill: none;
    stroke: var(--rust);
    stroke-width: 1.4;
  }
  .ends {
    display: flex;
    justify-content: space-between;
    margin: 0 58px 0 0;
    font-size: 12px;
    color: var(--quiet);
  }
  .zeros {
    margin: 2px 0;
    color: var(--wrong);
    font-weight: 600;
  }
</style>
