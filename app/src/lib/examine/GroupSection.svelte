<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import Input from '$lib/components/Input.svelte';
  import Select from '$lib/components/Select.svelte';
  import { PROFILES, type SeriesFigures } from '@jaunty-ledger/core';
  import type { ToldExamination } from '$lib/works/examination/work';
  import type { Tape } from '$lib/api/tapes';
  import type { Examined } from './examineAddress';
  import type { FiguresFile } from './examineFiles';
  import ProfilePlot from './ProfilePlot.svelte';
  import SectionHead from './SectionHead.svelte';

  interface Props {
    /** How values of the series are written. */
    figures: SeriesFigures;
    examined: Examined;
    groups: ToldExamination['groups'];
    tape: Tape | undefined;
    file: FiguresFile | undefined;
    change: (what: Partial<Examined>) => void;
  }
  let { figures, examined, groups, tape, file, change }: Props = $props();

  const HEADS: readonly [string, string?][] = [
    [''],
    ['values'],
    ['missing'],
    ['zeros'],
    ['mean'],
    ['dev.', 'standard deviation'],
    ['25 %', 'lower quartile'],
    ['50 %', 'median'],
    ['75 %', 'upper quartile'],
  ];
  // columns that say nothing take the room of the others
  const hasMissing = $derived(groups?.list.some(({ missing }) => missing > 0) ?? false);
  const hasZeros = $derived(groups?.list.some(({ zeros }) => zeros > 0) ?? false);
  const heads = $derived(
    HEADS.filter(([head]) => (head !== 'missing' || hasMissing) && (head !== 'zeros' || hasZeros)),
  );
  /** So many groups can be drawn side by side. */
  const MOST_DRAWN = 80;
  /** So many are listed before one looks for words. */
  const MOST_LISTED = 40;
  const NAMES: Partial<Record<(typeof PROFILES)[number], string>> = {
    slot: 'slot of the session',
    day: 'day of the month',
    session: 'single session',
  };
  const parts = $derived(
    tape?.precision === 'period'
      ? []
      : PROFILES.filter((by) => tape?.precision === 'moment' || (by !== 'slot' && by !== 'hour')),
  );
  const columns = $derived(tape?.texts.map(({ name }) => name) ?? []);
  const chosen = $derived(examined.words ? `words ${examined.words}` : (examined.profile ?? ''));

  function choose(choice: string): void {
    const isWords = choice.startsWith('words ');
    change({
      words: isWords ? choice.slice(6) : '',
      profile: isWords || !choice ? null : (choice as Examined['profile']),
    });
  }

  let sought = $state('');
  const list = $derived(
    groups?.list.filter(({ name }) => name.toLowerCase().includes(sought.trim().toLowerCase())) ?? [],
  );
  const share = (part: number, whole: number) => (whole > 0 ? `${Math.round((100 * part) / whole)} %` : '');
</script>

{#if parts.length + columns.length > 0}<section aria-label="By groups">
    <SectionHead {file}>
      By the
      <Select
        look="word"
        aria-label="Group rows by"
        value={chosen}
        onchange={(event) => choose(event.currentTarget.value)}
      >
        <option value="">calendar or words…</option>
        {#each parts as by (by)}<option value={by}>{NAMES[by] ?? by}</option>{/each}
        {#each columns as name (name)}<option value="words {name}">words of {name}</option>{/each}
      </Select>
    </SectionHead>
    {#if groups}
      {#if groups.list.length > 1 && groups.list.length <= MOST_DRAWN}<ProfilePlot {groups} {figures} />{/if}
      {#if groups.list.length > 12}<Input
          class="text-[13px]"
          type="search"
          aria-label="Find a group"
          placeholder="find one of {groups.list.length.toLocaleString('en')}"
          bind:value={sought}
        />{/if}
      <div class="scrolls">
        <Table look="figures" class="mt-1 text-[13px] whitespace-nowrap">
          <thead
            ><tr
              >{#each heads as [head, meaning] (head)}<th scope="col" title={meaning}>{head}</th>{/each}</tr
            ></thead
          >
          <tbody>
            {#each list.slice(0, MOST_LISTED) as { name, count, missing, zeros, mean, stdev, quartiles } (name)}
              <tr>
                <th scope="row">{name}</th>
                <td>{count.toLocaleString('en')}</td>
                {#if hasMissing}<td>{missing.toLocaleString('en')}</td>{/if}
                {#if hasZeros}<td class:most={zeros > count / 2}>{share(zeros, count)}</td>{/if}
                <td>{mean === null ? '' : figures.level(mean)}</td>
                <td>{stdev === null ? '' : figures.distance(stdev)}</td>
                {#each quartiles as value, at (at)}<td>{value === null ? '' : figures.level(value)}</td>{/each}
              </tr>
            {/each}
          </tbody>
        </Table>
      </div>
      {#if list.length === 0}<p>None is called that.</p>{/if}
      {#if list.length > MOST_LISTED}<p>
          {(list.length - MOST_LISTED).toLocaleString('en')} more: look for words, or open the rows.
        </p>{/if}
      {#if groups.without > 0}<p>{groups.without.toLocaleString('en')} rows belong to none.</p>{/if}
    {/if}
  </section>{/if}

<style>
  .scrolls {
    overflow-x: auto;
  }
  th,
  td {
    padding: 0 10px 0 0;
    text-align: right;
    font-weight: 400;
    font-variant-numeric: tabular-nums;
  }
  th[scope='row'] {
    text-align: left;
  }
  td.most {
    color: var(--wrong);
    font-weight: 600;
  }
  p {
    margin: 2px 0;
    font-size: 13px;
    color: var(--quiet);
  }
</style>
