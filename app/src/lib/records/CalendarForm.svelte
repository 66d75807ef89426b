<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import Button from '$lib/components/Button.svelte';
  import Checkbox from '$lib/components/Checkbox.svelte';
  import FileInput from '$lib/components/FileInput.svelte';
  import Input from '$lib/components/Input.svelte';
  import Textarea from '$lib/components/Textarea.svelte';
  import { untrack } from 'svelte';
  import { calendarEffects, keepCalendar } from '$lib/api/client';
  import type { CalendarBody, CalendarEffect, ListedCalendar } from '$lib/api/calendars';
  import { Refusal, type Problem } from '$lib/api/problems';
  import Said from '$lib/components/Said.svelte';
  import { keptText, listed } from './calendarText';

  interface Props {
    /** The one that is changed; a new one where there is none. */
    calendar: ListedCalendar | undefined;
    /** Told what was kept, in a sentence. */
    onkept: (says: string) => void;
    onclose: () => void;
  }
  let { calendar, onkept, onclose }: Props = $props();

  // made anew for another calendar
  const before = untrack(() => calendar);
  let name = $state(before?.name ?? '');
  let zone = $state(before?.zone ?? Intl.DateTimeFormat().resolvedOptions().timeZone);
  let session = $state(before?.session ?? '');
  let weekdays = $state(before?.weekdays?.join(', ') ?? '');
  let closed = $state(before?.closed?.join('\n') ?? '');
  let closeIncluded = $state(before?.closeIncluded ?? false);
  let effects = $state.raw<CalendarEffect[]>();
  let isWorking = $state(false);
  let problem = $state.raw<Problem>();
  let told = $state('');

  const EXAMPLE = '2026-12-25\n2026-12-24 12:00';
  const zones = ['UTC', ...Intl.supportedValuesOf('timeZone').filter((known) => known !== 'UTC')];
  const follows = $derived((before?.tapes.length ?? 0) > 0);

  const body = (): CalendarBody => ({
    name: name.trim(),
    zone: zone.trim(),
    session: session.trim() || null,
    weekdays: listed(weekdays),
    closed: listed(closed),
    closeIncluded,
  });

  async function attempt(work: () => Promise<void>): Promise<void> {
    isWorking = true;
    problem = undefined;
    try {
      await work();
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      problem = error.problem;
    } finally {
      isWorking = false;
    }
  }

  /** First what would change is told, where tapes go by it; then it is changed. */
  function submit(event: SubmitEvent): void {
    event.preventDefault();
    if (follows && !effects)
      return void attempt(async () => void (effects = await calendarEffects(fetch, before!.name, body())));
    void attempt(async () => {
      onkept(keptText(await keepCalendar(fetch, before?.name ?? name.trim(), body())));
    });
  }

  async function takeFile(input: HTMLInputElement): Promise<void> {
    const [file] = input.files ?? [];
    if (!file) return;
    problem = undefined;
    effects = undefined;
    // what it takes to read such files comes with the first of them
    const { readClosedDays } = await import('@jaunty-ledger/files/calendars/icalendar');
    try {
      const found = readClosedDays(
        await file.text(),
        { zone: zone.trim() || 'UTC', session: session.trim() || undefined },
        new Date(),
      );
      const known = listed(closed) ?? [];
      const added = found.closed.filter((day) => !known.includes(day));
      closed = [...known, ...added].sort().join('\n');
      const over = found.passedOver > 0 ? ` ${found.passedOver} events lie within a day and are passed over.` : '';
      told = `${added.length} closed ${added.length === 1 ? 'day' : 'days'} of ${file.name} added.${over}`;
    } catch (error) {
      told = error instanceof Error ? error.message : String(error);
    }
    input.value = '';
  }

  const changeText = ([from, to]: [number, number]) =>
    from === to ? from.toLocaleString('en') : `${from.toLocaleString('en')} → ${to.toLocaleString('en')}`;
</script>

<form
  onsubmit={submit}
  oninput={() => (effects = undefined)}
  aria-label={before ? `Change ${before.name}` : 'New calendar'}
>
  <label
    >Name <Input
      class="block w-full! py-[3px] text-[16px]"
      bind:value={name}
      required
      maxlength={60}
      autocomplete="off"
    /></label
  >
  <label
    >Zone <Input
      class="block w-full! py-[3px] text-[16px]"
      bind:value={zone}
      list="calendar-zones"
      required
      autocomplete="off"
    /></label
  >
  <label
    >Session <Input
      class="block w-full! py-[3px] text-[16px]"
      bind:value={session}
      placeholder="none: the whole day"
      autocomplete="off"
    /></label
  >
  <label
    >Weekdays <Input
      class="block w-full! py-[3px] text-[16px]"
      bind:value={weekdays}
      placeholder="all seven"
      autocomplete="off"
    /></label
  >
  <label class="check"
    ><Checkbox bind:checked={closeIncluded} /> a record at the very close belongs to the session</label
  >
  <label class="closed"
    >Closed days, one a line; one with a time closes early
    <Textarea
      class="block px-0 py-[3px] font-mono text-[13px] field-sizing-fixed!"
      bind:value={closed}
      rows={5}
      placeholder={EXAMPLE}
      spellcheck="false"
    ></Textarea></label
  >
  <p class="file">
    <label class="word"
      >add those of an iCalendar file<FileInput
        accept=".ics,text/calendar"
        onchange={(event) => takeFile(event.currentTarget)}
      /></label
    >
    {#if told}<span role="status"><Said text={told} /></span>{/if}
  </p>
  <datalist id="calendar-zones"
    >{#each zones as known (known)}<option value={known}></option>{/each}</datalist
  >
  {#if problem}
    <div class="problem" role="alert">
      <Said text={problem.detail} />
      {#each (problem.errors ?? []).slice(1) as { field, message } (field)}<p>{field}: {message}</p>{/each}
    </div>
  {/if}
  {#if effects}
    <Table look="listing" class="col-[1/-1]" aria-label="What would change">
      <thead
        ><tr
          ><th scope="col">tape</th><th scope="col" class="figure">records</th><th scope="col" class="figure"
            >outside the session</th
          ><th scope="col" class="figure">on closed days</th></tr
        ></thead
      >
      <tbody>
        {#each effects as { tape, rows, outside, closedDate } (tape)}
          <tr
            ><th scope="row">{tape}</th><td class="figure">{rows.toLocaleString('en')}</td><td class="figure"
              >{changeText(outside)}</td
            ><td class="figure">{changeText(closedDate)}</td></tr
          >
        {/each}
      </tbody>
    </Table>
  {/if}
  <p class="acts">
    <Button type="submit" look="word" disabled={isWorking}
      >{#if isWorking}Working…{:else if !before}Save{:else if effects}Change it for {effects.length}
        {effects.length === 1 ? 'tape' : 'tapes'}{:else if follows}See what would change{:else}Change it{/if}</Button
    >
    <Button onclick={onclose}>Cancel</Button>
  </p>
</form>

<style>
  form {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
    gap: 10px 24px;
    padding: 12px 20px 16px;
    background: var(--paper-raised);
    border-top: 1px solid var(--rule-faint);
  }
  label {
    font-size: 14px;
    color: var(--quiet);
  }
  .check,
  .file,
  .acts,
  .problem,
  .closed {
    grid-column: span 2;
  }
  .acts {
    display: flex;
    gap: 18px;
  }
  .file span {
    color: var(--quiet);
    margin-left: 12px;
  }
  .problem {
    color: var(--wrong);
  }
  .problem p {
    margin: 0;
  }
  @media (max-width: 700px) {
    .closed {
      grid-column: auto;
    }
  }
</style>
