<script lang="ts">
  import type { ToldExamination } from '$lib/api/examinations';
  import type { Examined } from './examineAddress';
  import { brief } from './lines';
  import SeriesPlot from './SeriesPlot.svelte';

  interface Props {
    examined: Examined;
    told: ToldExamination;
    change: (what: Partial<Examined>) => void;
    pointer: number | undefined;
    onpoint: (at: number | undefined) => void;
  }
  let { examined, told, change, pointer, onpoint }: Props = $props();
</script>

<section class="wide" aria-label="Parts">
  <h2>
    Parts, with a season of
    <input
      class="word"
      type="number"
      min="2"
      value={examined.season ?? ''}
      placeholder="so many"
      aria-label="Rows of a season"
      onchange={(event) => change({ season: Math.round(event.currentTarget.valueAsNumber) || undefined })}
    /> rows
  </h2>
  {#if told.season}
    {#each [['trend', told.season.trend], ['remainder', told.season.remainder]] as const as [says, values] (says)}
      <h3>{says}</h3>
      <SeriesPlot label={says} {values} heightPx={70} {pointer} {onpoint} />
    {/each}
    <h3>shape of the season</h3>
    <SeriesPlot
      label="Shape of the season"
      values={told.season.shape}
      heightPx={70}
      ink="var(--ink-2)"
      pointer={undefined}
      onpoint={() => undefined}
    />
    <p class="pointed">
      The season explains {brief(told.season.strength.season)} of what the trend leaves, the trend {brief(
        told.season.strength.trend,
      )} of what the season leaves.
    </p>
  {:else if examined.season}<p>
      {(2 * examined.season).toLocaleString('en')} values are needed at least.
    </p>{/if}
</section>
