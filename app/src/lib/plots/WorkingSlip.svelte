<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import Button from '$lib/components/Button.svelte';
  import { splitEntry } from '@jaunty-ledger/core';
  import type { Working } from '@jaunty-ledger/core';
  import type { EntryText } from '$lib/compute/protocol';
  import { momentText } from '$lib/chart/calendarTicks';
  import BarWorking from './BarWorking.svelte';
  import FitPlot from './FitPlot.svelte';
  import type { BarView } from './barView.svelte';
  import type { EntryResults } from './entryResults.svelte';
  import Slip from './Slip.svelte';
  import { momentFigures } from './stretchText';

  interface Props {
    view: BarView;
    results: EntryResults;
    entries: readonly EntryText[];
    /** Lines by which bars to come are reached: entries that are drawn later than they are worked out on. */
    lines: readonly { id: string; text: string; shift: number; isProjection: boolean }[];
  }
  let { view, results, entries, lines }: Props = $props();

  const what = $derived(view.working!);
  const entry = $derived(entries.find(({ id }) => id === what.entryId));
  const name = $derived(entry ? splitEntry(entry.text).name : 'the bar');
  const at = (row: number) =>
    row < 0
      ? 'before the record'
      : row < view.times.length
        ? momentText(view.times[row], view.calendar, view.precision)
        : 'at a time that the calendar does not cover';
  const isToCome = $derived(what.row >= view.rows);
  /** Lines that are drawn over this bar to come. */
  const drawnHere = $derived(lines.filter(({ shift }) => what.row - shift < view.rows && what.row - shift >= 0));
  let working = $state.raw<Working>();
  let isReady = $state(false);

  let readyFor = '';
  $effect(() => {
    const { entryId, row } = what;
    void results.shown; // anew when the formula changes, or the bar goes on
    // what is shown of the same value stays until it is worked out anew
    if (readyFor !== `${entryId} ${row}`) isReady = false;
    if (entryId === undefined || row >= view.rows) return;
    let isCurrent = true;
    void results.working(entries, entryId, row).then((found) => {
      if (!isCurrent) return;
      working = found;
      isReady = true;
      readyFor = `${entryId} ${row}`;
    });
    return () => (isCurrent = false);
  });

  const apart = $derived(
    working?.recomputed === undefined
      ? 0
      : Math.abs(working.stored - working.recomputed) / (Math.abs(working.stored) || 1),
  );
  /** In a column of many, where the full figure is told on pointing at it. */
  const brief = (value: number) =>
    Number.isNaN(value) ? 'missing' : String(Number(value.toPrecision(8))).replace('-', '−');
  const full = (value: number) =>
    Number.isNaN(value) ? 'missing' : String(Number(value.toPrecision(12))).replace('-', '−');
</script>

<Slip title="Working of {name}" onclose={() => view.closeWorking()}>
  {#snippet tools()}
    <span class="step">
      <Button aria-label="One bar back" onclick={() => view.openWorking(what.entryId, Math.max(0, what.row - 1))}
        >‹ bar</Button
      >
      <Button
        aria-label="One bar on"
        onclick={() =>
          view.openWorking(
            what.entryId,
            Math.min((what.entryId === undefined ? view.viewRows : view.rows) - 1, what.row + 1),
          )}>bar ›</Button
      >
    </span>
  {/snippet}
  <p class="when">{at(what.row)}, bar {(what.row + 1).toLocaleString('en')}</p>
  {#if isToCome}
    <p>
      This bar is in the future: its prices are not known.
      {view.times.length > what.row ? 'Its start is computed from the bar rule and the calendar.' : ''}
    </p>
    {#each drawnHere as { id, text, shift, isProjection } (id)}
      <p>
        <strong>{splitEntry(text).name}</strong>
        {#if isProjection}stands here: it is projected from all values up to the last one.
        {:else}stands here since it is drawn {shift}
          {shift === 1 ? 'bar' : 'bars'} later: its value is that of {at(what.row - shift)}.{/if}
        <Button look="word" onclick={() => view.openWorking(id, what.row - shift)}
          >{isProjection ? 'Show its working' : 'Show that one'}</Button
        >
      </p>
    {/each}
  {:else if what.entryId === undefined}
    <BarWorking {view} row={what.row} />
  {:else if !isReady}
    <p class="quiet">Working it out…</p>
  {:else if !working}
    <p>This entry cannot be used as it is written; correct its formula first.</p>
  {:else}
    <p class="phrase">{working.phrase}</p>
    <p class="formula">{working.formula}</p>
    {#if working.steps.length > 0}
      <Table look="reckoning" class="steps">
        <tbody>
          {#each working.steps as { says, value }, index (index)}
            <tr><th scope="row">{says}</th><td>{full(value)}</td></tr>
          {/each}
        </tbody>
      </Table>
    {/if}
    <Table look="reckoning" class="result border-t-[3px] border-double border-(--ink)">
      <tbody>
        <tr><th scope="row">as stored</th><td>{full(working.stored)}</td></tr>
        {#if working.recomputed !== undefined}
          <tr><th scope="row">recomputed directly</th><td>{full(working.recomputed)}</td></tr>
        {/if}
      </tbody>
    </Table>
    {#if working.recomputed !== undefined}
      <p class="quiet">
        {#if Number.isNaN(working.stored) && Number.isNaN(working.recomputed)}Neither has a value here.
        {:else if Number.isNaN(working.stored)}The entry shows no value here: fewer rows count than it asks for.
        {:else if apart < 1e-9}Both agree.
        {:else}They differ by {full(working.stored - working.recomputed)}.{/if}
      </p>
    {/if}
    {#if working.fit}<FitPlot fit={working.fit} />{/if}
    {#if working.rows.at.length > 0}
      <h3>
        {working.rows.at.length === 1 ? 'The row' : `The ${working.rows.at.length} rows`} it is made of
      </h3>
      <Table look="reckoning" class="rows">
        <thead>
          <tr
            ><th scope="col">bar</th>{#each working.rows.names as column, index (index)}<th scope="col">{column}</th
              >{/each}</tr
          >
        </thead>
        <tbody>
          {#each working.rows.at as row, index (row)}
            <tr>
              <th scope="row">{row < 0 ? 'before' : momentFigures(view.times[row], view.calendar, view.precision)}</th>
              {#each working.rows.columns as column, place (place)}<td title={full(column[index])}
                  >{brief(column[index])}</td
                >{/each}
            </tr>
          {/each}
        </tbody>
      </Table>
    {/if}
    <p>
      <Button look="word" onclick={() => view.openWorking(undefined, what.row)}>See the bar itself</Button>
    </p>
  {/if}
</Slip>

<style>
  p {
    margin: 4px 0;
  }
  .when,
  .quiet {
    color: var(--quiet);
    font-style: italic;
  }
  .phrase {
    font-size: 15px;
  }
  .formula {
    font-family: var(--mono);
    font-size: 12px;
    color: var(--quiet);
  }
  :global(.steps) tr {
    border-bottom: 1px solid var(--rule-faint);
  }
  :global(.result) td {
    font-weight: 600;
  }
  h3 {
    font-size: 14px;
    margin: 12px 0 2px;
  }
  :global(.rows) th[scope='row'] {
    white-space: nowrap;
  }
  .step {
    display: flex;
    gap: 8px;
  }
</style>
