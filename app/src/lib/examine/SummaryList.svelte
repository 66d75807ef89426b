<script lang="ts">
  import type { ToldExamination } from '$lib/works/examination/work';
  import { type SeriesFigures } from '@jaunty-ledger/core';
  import { brief } from '$lib/pictures/lines';

  /** @property figures  how values of the series are written */
  let { summary, figures }: { summary: ToldExamination['summary']; figures: SeriesFigures } = $props();

  const counts = $derived([
    ['values', summary.count],
    ['missing', summary.missing],
    ['zeros', summary.zeros],
  ] as const);
  const levels = $derived([
    ['mean', summary.mean],
    ['min', summary.min],
    ['lower quartile', summary.quartiles[0]],
    ['median', summary.quartiles[1]],
    ['upper quartile', summary.quartiles[2]],
    ['max', summary.max],
  ] as const);
  const shape = $derived([
    ['skewness', summary.skewness],
    ['kurtosis', summary.kurtosis],
  ] as const);
</script>

<dl>
  {#each counts as [says, count] (says)}<dt>{says}</dt>
    <dd>
      {count.toLocaleString('en')}{says === 'zeros' && count > 0
        ? ` (${Math.round((100 * count) / summary.count)} %)`
        : ''}
    </dd>{/each}
  {#each levels as [says, value] (says)}<dt>{says}</dt>
    <dd>{figures.level(value)}</dd>{/each}
  <dt>standard deviation</dt>
  <dd>{figures.distance(summary.stdev)}</dd>
  {#each shape as [says, value] (says)}<dt>{says}</dt>
    <dd>{brief(value)}</dd>{/each}
</dl>

<style>
  dl {
    display: grid;
    grid-template-columns: auto minmax(0, 1fr);
    gap: 0 12px;
    margin: 6px 0 0;
    font-size: 13px;
  }
  dt {
    color: var(--quiet);
  }
  dd {
    margin: 0;
    font-variant-numeric: tabular-nums;
  }
</style>
