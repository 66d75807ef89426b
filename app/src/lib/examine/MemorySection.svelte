<script lang="ts">
  import Select from '$lib/components/Select.svelte';
  import { MOST_LAGS, type ToldExamination } from '$lib/works/examination/work';
  import ScrubNumber from '$lib/components/ScrubNumber.svelte';
  import Correlogram from '$lib/pictures/Correlogram.svelte';
  import { MOST_ORDER } from '@jaunty-ledger/core';
  import { projectAddress, type Examined } from './examineAddress';
  import type { FiguresFile } from './examineFiles';
  import { RowsView } from '$lib/pictures/rowsView.svelte';
  import SectionHead from './SectionHead.svelte';

  interface Props {
    examined: Examined;
    told: ToldExamination;
    /** The same of another tape. */
    other: ToldExamination | undefined;
    lagText: (lag: number) => string;
    file: FiguresFile | undefined;
    change: (what: Partial<Examined>, group?: string) => void;
  }
  let { examined, told, other, lagText, file, change }: Props = $props();

  /** Two entries of one tape are told apart by what they are. */
  const ownName = $derived(examined.beside === examined.tape ? examined.entry : examined.tape);
  const besideName = $derived(
    examined.beside === examined.tape ? examined.besideEntry || examined.beside : examined.beside,
  );
  /** Shared by all pictures of lags. */
  const lagsView = new RowsView();
  const isOfSquares = $derived(examined.memory === 'squares');
  const memoryOf = (examination: ToldExamination | undefined) =>
    examination?.memory && (isOfSquares ? examination.memory.squares : examination.memory.values);
  const memories = $derived(
    [
      { name: ownName, memory: memoryOf(told) },
      { name: besideName, memory: memoryOf(other) },
    ].flatMap(({ name, memory }) => (memory ? [{ name, ...memory }] : [])),
  );
  /** Lags whose own part stands out of the band, as far as a model takes them. */
  const lagsToTry = $derived.by(() => {
    const { pacf = [], band = null } = told.memory?.values ?? {};
    return pacf.flatMap((r, at) =>
      at > 0 && at <= MOST_ORDER && r !== null && band !== null && Math.abs(r) > band ? [at] : [],
    );
  });
  /** Differences that the values need before lags say something of a model. */
  const differences = $derived(told.verdicts.find(({ question }) => question === 'differences')?.differences ?? 0);
  /** Half the width of the band of the autocorrelation, by lag where it widens. */
  const bandOf = ({ band, bartlett }: { band: number | null; bartlett: readonly (number | null)[] }) =>
    examined.band === 'noise' ? band : bartlett;
  /** One scale for all pictures of memory. */
  const memoryScale = $derived(
    Math.max(
      0.1,
      ...memories.flatMap(({ acf, pacf, band, bartlett }) => [
        ...[bandOf({ band, bartlett })].flat().map((half) => half ?? 0),
        ...[...acf.slice(1), ...pacf.slice(1)].map((r) => Math.abs(r ?? 0)),
      ]),
    ),
  );
</script>

<section class="most" aria-label="Memory">
  <SectionHead {file}>
    Autocorrelation of
    <Select
      look="word"
      aria-label="What memory is shown of"
      value={examined.memory}
      onchange={(event) => change({ memory: event.currentTarget.value as Examined['memory'] })}
    >
      <option value="values">its values</option>
      <option value="squares">their squares</option>
    </Select>, lags 1 to
    <ScrubNumber
      value={examined.lags}
      label="Most lags"
      most={MOST_LAGS}
      onchange={(lags) => change({ lags }, 'lags')}
    />, band
    <Select
      look="word"
      aria-label="Band of the autocorrelation"
      title="95 % band: of white noise, or Bartlett's, which widens with the correlations at shorter lags"
      value={examined.band}
      onchange={(event) => change({ band: event.currentTarget.value as Examined['band'] })}
    >
      <option value="noise">of white noise</option>
      <option value="bartlett">by Bartlett</option>
    </Select>
  </SectionHead>
  {#if lagsToTry.length > 0 || differences > 0}<p class="onward">
      <a href={projectAddress(examined, { lags: lagsToTry, differences, isOfLogs: told.changes.kind === 'log' })}
        >{#if differences > 0}Project with {differences === 1 ? 'one difference' : 'two differences'}, the other orders
          chosen{:else}Project with {lagsToTry.length > 6
            ? `the ${lagsToTry.length} significant lags`
            : `lag${lagsToTry.length > 1 ? 's' : ''} ${lagsToTry.join(', ')}`}{/if}</a
      >
    </p>{/if}
  {#each memories as { name, acf, pacf, band, bartlett } (name)}
    {@const of = memories.length > 1 ? ` of ${name}` : ''}
    <div class="pair">
      {#each [['autocorrelation', acf], ['partial autocorrelation', pacf]] as const as [title, values] (title)}
        <Correlogram
          title="{title}{of}"
          {values}
          band={title === 'autocorrelation' ? bandOf({ band, bartlett }) : band}
          scale={memoryScale}
          view={lagsView}
          {lagText}
        />
      {/each}
    </div>
  {:else}<p>At least two different values are needed.</p>{/each}
</section>

<style>
  .onward {
    margin: 0 0 4px;
    font-size: 13px;
  }
  .pair {
    display: grid;
    gap: 10px;
  }
</style>
