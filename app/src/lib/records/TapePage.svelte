<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Input from '$lib/components/Input.svelte';
  import Select from '$lib/components/Select.svelte';
  import { goto, invalidate } from '$app/navigation';
  import { page } from '$app/state';
  import Sharing from '$lib/access/Sharing.svelte';
  import { askLatest } from '$lib/api/ask';
  import { changeTape, fetchSummary } from '$lib/api/client';
  import { reasonOf } from '$lib/api/problems';
  import type { MarketCalendar } from '$lib/api/calendars';
  import type { TapeSummary } from '$lib/api/summary';
  import type { TapeChange, TapeDetails } from '$lib/api/tapes';
  import { showInView } from '$lib/components/inView.svelte';
  import TextField from '$lib/components/TextField.svelte';
  import Said from '$lib/components/Said.svelte';
  import { calendarText, listed } from './calendarText';
  import Provenance from './Provenance.svelte';
  import RecordsTable from './RecordsTable.svelte';
  import { kindText, spanText, sparkPath } from './shelfModel';
  import SharedTimesChoice from './SharedTimesChoice.svelte';
  import SummaryTable from './SummaryTable.svelte';
  import { guessText } from './sessionGuess';

  let { tape, calendars }: { tape: TapeDetails; calendars: readonly MarketCalendar[] } = $props();

  /** Single values are called as their file calls them. */
  const valueText = $derived(tape.kind === 'series' ? (tape.valueName ?? 'Values') : 'Price');
  /** Numbered periods have no hours. */
  const isNumbered = $derived(tape.precision === 'period');

  const LINE_PX = 21;
  /** Lines that the figures take: a heading, the columns that have any, and how far apart records are. */
  const figureLines = $derived(
    (isNumbered ? 1 : 2) +
      tape.columns.filter((name) => !['time', 'line', 'flags'].includes(name)).length +
      tape.numbers.length,
  );

  let summary = $state.raw<TapeSummary>();
  let summaryOf = '';
  let problem = $state('');

  const rest = (error: unknown) => (problem = reasonOf(error));
  const gapText = $derived.by(() => {
    const seconds = summary?.usualGapSeconds;
    if (seconds === undefined || seconds === null || tape.precision === 'period') return '';
    if (seconds >= 82_800) return `one record every ${Math.round(seconds / 86_400)} days`.replace(' 1 days', ' day');
    return seconds >= 60
      ? `one record every ${Math.round(seconds / 60)} minutes`.replace(' 1 minutes', ' minute')
      : `one record every ${seconds.toPrecision(2)} s (median)`;
  });
  const busiest = $derived(Math.max(1, ...(summary?.hours ?? [])));

  $effect(() => showInView({ tape: tape.name }));
  $effect(() => {
    void tape.version;
    const { name } = tape;
    // what is known stays in place while the same tape is read again
    if (name !== summaryOf) summary = undefined;
    summaryOf = name;
    return askLatest(
      (fetcher) => fetchSummary(fetcher, name),
      (found) => (summary = found),
      rest,
    );
  });

  let changing = Promise.resolve();
  /** One change after the other: each is made on what the one before has made of the tape. */
  const change = (what: TapeChange) => (changing = changing.then(() => apply(what)));

  async function apply(what: TapeChange): Promise<void> {
    problem = '';
    try {
      const changed = await changeTape(fetch, tape.name, what);
      if (changed.name === tape.name) await invalidate('app:tapes');
      else await goto(`/records/${changed.name}`, { replaceState: true });
    } catch (error) {
      rest(error);
    }
  }
</script>

<div class="page">
  <header class="page-head">
    <p class="book"><strong>Jaunty Ledger</strong> <em><a href="/records">Records</a></em></p>
    <h1>
      <TextField
        look="word"
        value={tape.name}
        aria-label="Name of the tape"
        change={(text) => change({ name: text.trim() })}
      />
      holds {tape.rows.toLocaleString('en')}
      {kindText(tape)}, {spanText(tape)}.
      <a class="open" href="/ledger?tape={tape.name}">Open its ledger</a>
    </h1>
    {#if tape.note}<p class="note">{tape.note}</p>{/if}
    {#if page.data.visitor}<Sharing
        path="/api/tapes/{encodeURIComponent(tape.name)}/sharing"
        of={tape.name}
        choices={['change', 'read']}
      />{/if}
  </header>

  <div class="parts">
    <section aria-label="Figures">
      <h2>Figures</h2>
      <!-- as high as it will be, so that nothing below moves when the figures come -->
      <div style:min-height="{LINE_PX * figureLines}px">
        {#if summary}
          <SummaryTable
            {summary}
            decimals={tape.priceDecimals}
            valueName={tape.kind === 'series' ? (tape.valueName ?? 'value') : 'price'}
          />
          {#if gapText}<p class="gap">{gapText}</p>{/if}
        {:else}<p class="wait" role="status">Reading the records…</p>{/if}
      </div>
      <h2>{valueText}</h2>
      <svg viewBox="0 0 420 60" role="img" aria-label="{valueText} over the span"
        ><path d={sparkPath(tape.spark, 420, 60)} /></svg
      >
      {#if !summary || summary.hours.length > 0}<h2>By the hour</h2>{/if}
      {#if summary && summary.hours.length > 0}
        <ol class="hours" aria-label="Records by the hour of the market's clock">
          {#each summary.hours as count, hour (hour)}
            <li title="{hour}:00, {count.toLocaleString('en')} records">
              <span class="bar" style:height="{(46 * count) / busiest}px"></span><span class="hour"
                >{hour % 3 === 0 ? hour : ''}</span
              >
              <span class="visually-hidden">{hour} o'clock: {count}</span>
            </li>
          {/each}
        </ol>
      {:else if !summary}<div class="hours"></div>{/if}
    </section>
    <section aria-label="Source">
      <Provenance {tape} />
      <h2>{isNumbered ? 'Tape' : 'Calendar'}</h2>
      <dl>
        {#if !isNumbered}
          <dt>calendar</dt>
          <dd>
            <Select
              value={tape.calendar ?? ''}
              aria-label="Calendar"
              onchange={(event) => change({ calendar: event.currentTarget.value || null })}
            >
              <option value="">own trading hours</option>
              {#each calendars as { name } (name)}<option value={name}>{name}</option>{/each}
            </Select>
            {#if tape.calendar}<span class="of">{calendarText(tape)}. <a href="/calendars">Change it</a></span>{/if}
          </dd>
        {/if}
        {#if !tape.calendar && !isNumbered}
          <dt>zone</dt>
          <dd>
            <TextField value={tape.zone} aria-label="Zone" change={(text) => change({ zone: text.trim() })} />
          </dd>
          <dt>session</dt>
          <dd>
            <TextField
              value={tape.session ?? ''}
              placeholder="none: the whole day"
              aria-label="Session"
              change={(text) => change({ session: text.trim() || null })}
            />
          </dd>
          <dt>weekdays</dt>
          <dd>
            <TextField
              value={tape.weekdays?.join(', ') ?? ''}
              placeholder="all seven"
              aria-label="Weekdays"
              change={(text) => change({ weekdays: listed(text) })}
            />
          </dd>
          <dt>closed</dt>
          <dd>
            <TextField
              value={tape.closed?.join(', ') ?? ''}
              placeholder="no dates"
              aria-label="Closed dates"
              change={(text) => change({ closed: listed(text) })}
            />
          </dd>
        {/if}
        <dt>tags</dt>
        <dd>
          <TextField
            value={tape.tags.join(', ')}
            placeholder="words to find it by"
            aria-label="Tags"
            change={(text) => change({ tags: listed(text) ?? [] })}
          />
        </dd>
        <dt>{tape.kind === 'series' ? 'values' : 'prices'} in</dt>
        <dd>
          <TextField
            value={tape.unit}
            placeholder="none"
            aria-label="Unit of prices"
            change={(text) => change({ unit: text.trim() })}
          />
        </dd>
        <dt>decimals</dt>
        <dd>
          <Input
            type="number"
            min="0"
            max="9"
            value={tape.priceDecimals}
            aria-label="Decimals of prices"
            onchange={(event) => change({ priceDecimals: event.currentTarget.valueAsNumber })}
          />
        </dd>
        {#if tape.sharedTimes}
          <dt>rows that share a time</dt>
          <dd>
            <SharedTimesChoice value={tape.sharedTimes} onchange={(sharedTimes) => change({ sharedTimes })} />
          </dd>
        {/if}
      </dl>
      <p class="guess">
        {#if summary?.session}
          {guessText(summary.session, `All ${tape.rows.toLocaleString('en')} records`)}
          <Button look="word" onclick={() => change(summary!.session!)}>Use as session</Button>
        {/if}
      </p>
    </section>
  </div>
  <RecordsTable {tape} />
  {#if problem}<p class="problem" role="alert"><Said text={problem} /></p>{/if}
</div>

<style>
  .page {
    padding-bottom: 24px;
  }
  h1 :global(input) {
    field-sizing: content;
    min-width: 3ch;
  }
  .open {
    font-size: 16px;
  }
  .note {
    margin: 2px 0 0;
    color: var(--quiet);
    font-style: italic;
  }
  h2 {
    font-size: 14px;
    font-weight: 400;
    font-style: italic;
    color: var(--quiet);
    margin: 14px 0 4px;
  }
  /* under all else, and in view wherever one is: what was about to be typed or pressed stays where it is */
  .problem {
    position: sticky;
    bottom: 0;
    color: var(--wrong);
    background: var(--paper);
    border-top: 1px solid var(--wrong);
    margin: 0;
    padding: 8px 20px;
  }
  .guess {
    margin: 8px 0 0;
    min-height: 1.5em;
  }
  .gap {
    margin: 0;
    font-size: 13.5px;
  }
  .wait {
    color: var(--quiet);
    font-style: italic;
  }
  .parts {
    display: grid;
    grid-template-columns: minmax(0, 1.25fr) minmax(0, 1fr);
    border-bottom: 1px solid var(--rule);
  }
  section {
    padding: 0 20px 16px;
    min-width: 0;
  }
  section + section {
    border-left: 4px double var(--margin-rule);
  }
  svg {
    width: 100%;
    max-width: 420px;
    height: 60px;
  }
  path {
    fill: none;
    stroke: var(--blue);
    stroke-width: 1.3;
  }
  .hours {
    display: flex;
    align-items: flex-end;
    gap: 3px;
    list-style: none;
    margin: 0;
    padding: 0;
    height: 66px;
  }
  .hours li {
    width: 14px;
    text-align: center;
  }
  .bar {
    display: block;
    background: var(--volume);
    min-height: 0;
  }
  .hour {
    display: block;
    height: 16px;
    font-size: 11.5px;
    color: var(--quiet);
    border-top: 1px solid var(--rule);
  }
  dl {
    display: grid;
    grid-template-columns: 90px minmax(0, 1fr);
    gap: 2px 12px;
    margin: 0;
    font-size: 14px;
  }
  dt {
    color: var(--quiet);
  }
  dd {
    margin: 0;
  }
  .of {
    color: var(--quiet);
    margin-left: 8px;
  }
  dd :global(input) {
    font: inherit;
    color: var(--ink);
    background: none;
    border: 0;
    border-bottom: 1px dotted var(--rule);
    padding: 0;
    width: 100%;
    text-overflow: ellipsis;
  }
  @media (max-width: 900px) {
    .parts {
      grid-template-columns: minmax(0, 1fr);
    }
    section + section {
      border-left: 0;
      border-top: 4px double var(--margin-rule);
    }
  }
</style>
