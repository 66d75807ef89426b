<script lang="ts">
  import type { ToldExamination } from '$lib/api/examinations';
  import { normalPoints } from './examineFiles';
  import Frame from './Frame.svelte';

  let { normal, summary }: Pick<ToldExamination, 'normal' | 'summary'> = $props();

  const points = $derived(normalPoints(normal));
  const far = $derived(Math.max(1, ...points.map(([quantile]) => Math.abs(quantile))));
  const values = $derived(points.map(([, value]) => value));
  const extent = $derived<[number, number] | undefined>(
    values.length > 0 ? [Math.min(...values), Math.max(...values)] : undefined,
  );
  const x = (quantile: number, widthPx: number) => ((quantile + far) / (2 * far)) * widthPx;
  const line = (quantile: number) => (summary.mean ?? 0) + quantile * (summary.stdev ?? 0);
</script>

<Frame label="Values in order against those of a normal variable" heightPx={130} {extent}>
  {#snippet children(widthPx, y)}
    <line x1={x(-far, widthPx)} x2={x(far, widthPx)} y1={y(line(-far))} y2={y(line(far))} />
    {#each points as [quantile, value], at (at)}<circle cx={x(quantile, widthPx)} cy={y(value)} r="1.8" />{/each}
  {/snippet}
</Frame>
<p><span>−{far.toFixed(1)}</span><span>deviations of a normal variable</span><span>{far.toFixed(1)}</span></p>

<style>
  line {
    stroke: var(--rust);
  }
  circle {
    fill: var(--blue);
  }
  p {
    display: flex;
    justify-content: space-between;
    margin: 0 58px 0 0;
    font-size: 12px;
    color: var(--quiet);
  }
</style>
