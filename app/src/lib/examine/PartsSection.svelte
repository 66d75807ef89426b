<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import type { ToldExamination } from '$lib/works/examination/work';
  import ScrubNumber from '$lib/components/ScrubNumber.svelte';
  import type { Examined } from './examineAddress';
  import type { FiguresFile } from './examineFiles';
  import { brief } from '$lib/pictures/lines';
  import SectionHead from './SectionHead.svelte';
  import SeriesPlot from '$lib/pictures/SeriesPlot.svelte';
  import { RowsView } from '$lib/pictures/rowsView.svelte';

  interface Props {
    examined: Examined;
    told: ToldExamination;
    view: RowsView;
    file: FiguresFile | undefined;
    change: (what: Partial<Examined>, group?: string) => void;
  }
  let { examined, told, view, file, change }: Props = $props();

  /** What has the rows of one season along it, not those of the series. */
  const ofSeason = new RowsView();
  $effect(() => ofSeason.show(told.season?.shape.length ?? 1));
  /** A length to begin with: of the strongest cycle that comes round twice, where there is one. */
  const likely = $derived(
    Math.max(2, Math.round(told.cycles.peaks.find(({ period }) => period! <= told.cycles.count / 2)?.period ?? 12)),
  );
</script>

<section class="wide" aria-label="Parts">
  <SectionHead {file}>
    Parts{#if examined.season === null}:
      <Button look="word" onclick={() => change({ season: likely })}
        >decompose with a season of {likely.toLocaleString('en')} rows</Button
      >
    {:else}, with a season of
      <ScrubNumber
        value={examined.season}
        label="Rows of a season"
        least={2}
        most={1_000_000}
        onchange={(season) => change({ season }, 'season')}
      />
      rows <Button onclick={() => change({ season: null })}>leave it out</Button>
    {/if}
  </SectionHead>
  {#if told.season}
    {#each [['trend', told.season.trend], ['remainder', told.season.remainder]] as const as [says, values] (says)}
      <h3>{says}</h3>
      <SeriesPlot label={says} {values} {view} heightPx={70} />
    {/each}
    <h3>shape of the season</h3>
    <SeriesPlot
      label="Shape of the season"
      values={told.season.shape}
      heightPx={70}
      ink="var(--ink-2)"
      view={ofSeason}
    />
    <p class="pointed">
      The season explains {brief(told.season.strength.season)} of what the trend leaves, the trend {brief(
        told.season.strength.trend,
      )} of what the season leaves.
    </p>
  {:else if examined.season}<p>
      {(2 * examined.season).toLocaleString('en')} values are needed.
    </p>{/if}
</section>
