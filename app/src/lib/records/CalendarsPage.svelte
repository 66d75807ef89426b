<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import { invalidate } from '$app/navigation';
  import { forgetCalendar, keepCalendar } from '$lib/api/client';
  import type { ListedCalendar } from '$lib/api/calendars';
  import { reasonOf } from '$lib/api/problems';
  import Said from '$lib/components/Said.svelte';
  import CalendarForm from './CalendarForm.svelte';
  import { bodyOf, calendarText, keptText } from './calendarText';

  let { calendars }: { calendars: ListedCalendar[] } = $props();

  /** The calendar that is being changed; empty for a new one. */
  let opened = $state<string>();
  let problem = $state('');
  let told = $state('');

  /** @param work  says what it did */
  async function attempt(work: () => Promise<string>): Promise<void> {
    problem = '';
    try {
      told = await work();
      await invalidate('app:calendars');
    } catch (error) {
      problem = reasonOf(error);
    }
  }

  const forget = (name: string) =>
    attempt(async () => {
      await forgetCalendar(fetch, name);
      return `${name} is deleted. Its tapes keep its hours as their own trading hours.`;
    });

  const bringAlong = (calendar: ListedCalendar) =>
    attempt(async () => keptText(await keepCalendar(fetch, calendar.name, bodyOf(calendar))));

  async function kept(says: string): Promise<void> {
    opened = undefined;
    told = says;
    await invalidate('app:calendars');
  }

  const tapesText = (tapes: readonly string[]) =>
    tapes.length === 0
      ? 'not used by any tape'
      : `${tapes.slice(0, 6).join(', ')}${tapes.length > 6 ? ` and ${tapes.length - 6} more` : ''}`;
</script>

<div class="page">
  <header class="page-head">
    <p class="book"><strong>Jaunty Ledger</strong> <em><a href="/records">Records</a>, calendars</em></p>
    <h1>
      {calendars.length === 0
        ? 'No calendar yet'
        : `${calendars.length} ${calendars.length === 1 ? 'calendar' : 'calendars'}`}: hours and days of a market, which
      many tapes may go by;
      <Button look="word" onclick={() => (opened = '')}>make one</Button>.
    </h1>
  </header>
  {#if problem}<p class="told wrong" role="alert"><Said text={problem} /></p>{/if}
  {#if told}<p class="told" role="status">{told}</p>{/if}
  {#if opened === ''}<CalendarForm calendar={undefined} onkept={kept} onclose={() => (opened = undefined)} />{/if}
  <ul>
    {#each calendars as calendar (calendar.name)}
      <li>
        <div class="line">
          <h2>{calendar.name}</h2>
          <p>{calendarText(calendar)}</p>
          <p class="quiet">{tapesText(calendar.tapes)}</p>
          <p class="acts">
            <Button
              aria-expanded={opened === calendar.name}
              aria-label="Change {calendar.name}"
              onclick={() => (opened = opened === calendar.name ? undefined : calendar.name)}>change</Button
            >
            <a
              class="aside"
              href="/api/calendars/{encodeURIComponent(calendar.name)}/closed.ics"
              download
              aria-label="Closed days of {calendar.name} as iCalendar">closed days as iCalendar</a
            >
            <Button aria-label="Forget {calendar.name}" onclick={() => forget(calendar.name)}>forget</Button>
          </p>
        </div>
        {#if calendar.behind.length > 0}
          <p class="behind" role="status">
            {tapesText(calendar.behind)}
            {calendar.behind.length === 1 ? 'has' : 'have'} other hours still.
            <Button look="word" onclick={() => bringAlong(calendar)}
              >Apply the calendar to {calendar.behind.length === 1 ? 'it' : 'them'}</Button
            >
          </p>
        {/if}
        {#if opened === calendar.name}<CalendarForm
            {calendar}
            onkept={kept}
            onclose={() => (opened = undefined)}
          />{/if}
      </li>
    {/each}
  </ul>
</div>

<style>
  .page {
    padding-bottom: 24px;
  }
  .told {
    margin: 0;
    padding: 10px 20px;
    border-bottom: 1px solid var(--rule);
  }
  .wrong {
    color: var(--wrong);
  }
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  li {
    border-bottom: 1px solid var(--rule-faint);
  }
  .line {
    padding: 10px 20px;
    display: grid;
    grid-template-columns: 180px minmax(0, 1.6fr) minmax(0, 1fr) auto;
    gap: 4px 20px;
    align-items: baseline;
  }
  h2 {
    font-size: 16px;
    font-weight: 600;
    margin: 0;
  }
  .line p {
    margin: 0;
    font-size: 15px;
  }
  .quiet {
    color: var(--quiet);
  }
  .behind {
    margin: 0;
    padding: 0 20px 10px;
  }
  .acts {
    display: flex;
    gap: 14px;
  }
  @media (max-width: 900px) {
    .line {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
