<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Input from '$lib/components/Input.svelte';
  import Select from '$lib/components/Select.svelte';
  import { splitEntry } from '@jaunty-ledger/core';
  import { onDestroy, untrack } from 'svelte';
  import { callRoll } from '$lib/works/roll/call';
  import type { Ledger } from '$lib/api/ledgers';
  import type { KeptPage } from '$lib/api/pages';
  import { reasonOf } from '$lib/api/problems';
  import type { RollRow } from '$lib/works/roll/work';
  import type { Tape } from '$lib/api/tapes';
  import Said from '$lib/components/Said.svelte';
  import { csvText } from '$lib/pages/figureFiles';
  import { keepPage } from '$lib/pages/keepPage.svelte';
  import { givenOf, type HandedOver } from '$lib/handover/blocks';
  import HandOver from '$lib/handover/HandOver.svelte';
  import PageHead from '$lib/pages/PageHead.svelte';
  import { saveAs } from '$lib/plots/figuresOut';
  import RollCharts from './RollCharts.svelte';
  import RollSentence from './RollSentence.svelte';
  import RollTable from './RollTable.svelte';
  import { entriesOf, ROLL, type Rolled } from './rollAddress';
  import { filteredBy, sortedBy } from './rollRows';

  interface Props {
    rolled: Rolled;
    kept?: KeptPage;
    tapes: readonly Tape[];
    ledgers: readonly Ledger[];
  }
  let { rolled, kept, tapes, ledgers }: Props = $props();

  let rows = $state.raw<RollRow[]>([]);
  let share = $state(0);
  let status = $state<'working' | 'done' | 'stopped' | 'failed'>('working');
  /** Tapes that are named in the line of those left out. */
  const NAMED_LEFT_OUT = 6;

  let problem = $state('');
  let abort = new AbortController();

  const keeper = keepPage(
    ROLL,
    () => rolled,
    () => kept,
  );
  onDestroy(() => abort.abort());
  const change = (what: Partial<Rolled>, group = '') => keeper.change(what, group);

  const wanted = $derived(rolled.tapes.length > 0 ? rolled.tapes.length : tapes.length);
  // equal questions are one: what is only looked at otherwise asks nothing
  const question = $derived(
    JSON.stringify({
      ...(rolled.tapes.length > 0 && { tapes: rolled.tapes }),
      ...{ bars: rolled.bars, entries: rolled.entries, back: rolled.back },
    }),
  );
  $effect(() => {
    const body = question;
    untrack(() => void roll(body));
  });

  async function roll(body: string): Promise<void> {
    abort.abort();
    const own = (abort = new AbortController());
    [rows, share, status, problem] = [[], 0, 'working', ''];
    let found: RollRow[] = [];
    try {
      await callRoll(
        (input, init) => fetch(input, { ...init, signal: own.signal }),
        JSON.parse(body),
        (some, done) => {
          if (own.signal.aborted) return;
          found = [...found, ...some];
          [rows, share] = [found, done];
        },
      );
      if (!own.signal.aborted) status = 'done';
    } catch (error) {
      if (own !== abort) return; // another one has taken its place
      if (own.signal.aborted) status = 'stopped';
      else [status, problem] = ['failed', reasonOf(error)];
    }
  }

  const chosen = $derived(
    ledgers.find((ledger) => JSON.stringify(entriesOf(ledger)) === JSON.stringify(rolled.entries)),
  );
  /** As the rows have them: a fan has a name for each member. */
  const names = $derived(
    rows.find(({ values }) => values.length > 0)?.values.map(({ name }) => name) ??
      rolled.entries.map((text) => splitEntry(text).name || text),
  );
  const filtered = $derived(filteredBy(rows, names, rolled.filter));
  const shown = $derived(typeof filtered === 'string' ? rows : filtered);
  const sorted = $derived(sortedBy(shown, names.includes(rolled.sort) ? rolled.sort : '', rolled.falling));
  /** Those that have these bars and columns, and those that do not. */
  const computed = $derived(sorted.filter(({ refused }) => !refused));
  const refused = $derived(rows.filter((row) => row.refused));
  const versions = $derived(new Map(tapes.map(({ name, version }) => [name, version])));
  const changed = $derived(
    rows.filter(({ tape, version }) => versions.has(tape) && versions.get(tape) !== version).length,
  );

  function figures() {
    const head = ['tape', 'version', 'last bar', ...names.flatMap((name) => [name, `${name} before`]), 'refused'];
    const cells = sorted.map(({ tape, version, at, refused, values }) => [
      ...[tape, version, at],
      ...names.flatMap((name) => {
        const value = values.find((one) => one.name === name);
        return [value?.last ?? null, value?.before ?? null];
      }),
      refused ?? null,
    ]);
    return { head, rows: cells };
  }
  const saveRows = () => saveAs(new Blob([csvText(figures())], { type: 'text/csv' }), 'roll.csv');
  const handedOver: HandedOver[] = [
    {
      says: 'the rows that are shown',
      make: async () => {
        const source = `${rolled.entries.join('; ')}; bars of ${rolled.bars}; each row is of the version it names; from the roll`;
        return [givenOf(`${names.slice(0, 6).join(', ')} on ${sorted.length} tapes`, figures(), source)];
      },
    },
  ];
</script>

<div class="page">
  <header class="page-head">
    <PageHead
      {keeper}
      name="Compare, the roll"
      several="rolls"
      usualTitle="{names.slice(0, 4).join(', ')} on {wanted} tapes"
    >
      {#snippet acts()}
        <a href="/compare" class="aside">lines</a>
        <HandOver
          title="{names.slice(0, 4).join(', ')} on {wanted} tapes"
          choices={handedOver}
          disabled={rows.length === 0}
        />
        <Button disabled={rows.length === 0} onclick={saveRows}>CSV</Button>
      {/snippet}
    </PageHead>
    <RollSentence {rolled} {tapes} {ledgers} {chosen} {change} />
    {#if status === 'working'}<div
        class="progress"
        role="progressbar"
        aria-label="Rolling"
        aria-valuenow={Math.round(share * 100)}
        style:width="{share * 100}%"
      ></div>{/if}
  </header>
  <div class="body">
    <p class="told" role="status">
      {#if status === 'working'}
        {rows.length.toLocaleString('en')} of {wanted.toLocaleString('en')} tapes…
        <Button look="word" onclick={() => abort.abort()}>Stop</Button>
      {:else if status === 'stopped'}
        Stopped: {rows.length.toLocaleString('en')} of {wanted.toLocaleString('en')} tapes are here.
        <Button look="word" onclick={() => void roll(question)}>Go on</Button>
      {:else if status === 'failed'}
        <span class="problem"><Said text={problem} /></span>
        <Button look="word" onclick={() => void roll(question)}>Try again</Button>
      {:else}
        {sorted.length === rows.length
          ? `${rows.length.toLocaleString('en')} ${rows.length === 1 ? 'tape' : 'tapes'}`
          : `${sorted.length.toLocaleString('en')} of ${rows.length.toLocaleString('en')} tapes`}{changed > 0
          ? `; ${changed.toLocaleString('en')} have changed since this page was opened`
          : ''}.
      {/if}
    </p>
    <label class="filter"
      >only where
      <Input
        class="w-[min(420px,60vw)]! font-mono text-[13px]"
        value={rolled.filter}
        aria-label="Condition"
        placeholder="{names[names.length - 1]} > 0"
        title="A condition on the last values, such as memory > 0.6 and wild < 0.02"
        onchange={(event) => change({ filter: event.currentTarget.value.trim() })}
      /></label
    >
    {#if typeof filtered === 'string'}<p class="problem" role="alert"><Said text={filtered} /></p>{/if}
    <p class="filter">
      <label
        >little charts of
        <Select
          look="word"
          value={names.includes(rolled.charts) ? rolled.charts : ''}
          onchange={(event) => change({ charts: event.currentTarget.value })}
        >
          <option value="">nothing</option>
          {#each names as name (name)}<option value={name}>{name}</option>{/each}
        </Select></label
      >
    </p>
    {#if names.includes(rolled.charts)}<RollCharts rows={computed} name={rolled.charts} />{:else}
      <RollTable {tapes} rows={computed} {names} {rolled} like={chosen?.id} {change} />
    {/if}
    {#if refused.length > 0}
      <details class="left-out" open={computed.length === 0}>
        <summary
          >{refused.length.toLocaleString('en')}
          {refused.length === 1 ? 'tape has' : 'tapes have'} no such bars or columns: {refused
            .slice(0, NAMED_LEFT_OUT)
            .map(({ tape }) => tape)
            .join(', ')}{refused.length > NAMED_LEFT_OUT ? '…' : ''}</summary
        >
        <ul>
          {#each refused as { tape, refused: reason } (tape)}<li>
              <strong>{tape}</strong>
              <Said text={reason ?? ''} />
            </li>{/each}
        </ul>
      </details>
    {/if}
  </div>
</div>

<style>
  .body {
    padding: 6px 20px 12px;
  }
  .told,
  .filter {
    margin: 2px 0;
    font-size: 14px;
  }
  .filter {
    display: inline-block;
    margin-right: 24px;
  }
  .left-out {
    margin-top: 8px;
    font-size: 13.5px;
    color: var(--quiet);
  }
  .left-out ul {
    margin: 4px 0 0 16px;
    padding: 0;
    list-style: none;
  }
  .problem {
    color: var(--wrong);
  }
</style>
