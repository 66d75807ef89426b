<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Input from '$lib/components/Input.svelte';
  import Select from '$lib/components/Select.svelte';
  import { untrack } from 'svelte';
  import Label from 'flowbite-svelte/Label.svelte';
  import Progressbar from 'flowbite-svelte/Progressbar.svelte';
  import Said from '$lib/components/Said.svelte';
  import type { MarketCalendar } from '$lib/api/calendars';
  import type { Tape } from '$lib/api/tapes';
  import { calendarText } from './calendarText';
  import BatchFiles from './BatchFiles.svelte';
  import { BatchSession } from './batchSession.svelte';
  import CheckChoices from './CheckChoices.svelte';
  import { IntakeSession } from './intakeSession.svelte';
  import ReadingSentence from './ReadingSentence.svelte';
  import SharedTimesChoice from './SharedTimesChoice.svelte';
  import RowsAsRead from './RowsAsRead.svelte';
  import TapesMade from './TapesMade.svelte';
  import { guessText, hiddenText } from './sessionGuess';

  interface Props {
    /** One file, or several that are entered together. */
    files: File[];
    /** Names of the tapes that are there. */
    shelf: readonly string[];
    calendars: readonly MarketCalendar[];
    ondone: (entered: Tape[] | undefined) => void;
  }
  let { files, shelf, calendars, ondone }: Props = $props();
  const [file] = untrack(() => files);

  // made anew for another file
  const session = untrack(() => new IntakeSession(file, shelf));

  const batch = untrack(() => (files.length > 1 ? new BatchSession(session, files, shelf) : undefined));
  /** Tapes that came of several files, some of which were refused. */
  let partial = $state<Tape[]>([]);

  let profileName = $state('');

  /** Fields as lines of a form, not as boxes. */
  const FIELD = 'block w-full! py-1 text-base font-normal';
  const LABEL = 'text-sm font-normal text-(--quiet)';
  const zones = ['UTC', ...Intl.supportedValuesOf('timeZone').filter((known) => known !== 'UTC')];

  const ownZone = Intl.DateTimeFormat().resolvedOptions().timeZone;

  const preview = $derived(session.preview);
  const progress = $derived(session.progress);
  const bytes = $derived(batch ? batch.totalBytes : file.size);
  const sizeText = $derived(bytes < 1e6 ? `${(bytes / 1000).toFixed(1)} kB` : `${(bytes / 1e6).toFixed(1)} MB`);
  const isEntering = $derived(session.isEntering || (batch?.isEntering ?? false));
  const chosenCalendar = $derived(calendars.find(({ name }) => name === session.calendar));
  const several = $derived(preview && preview.tapes.length > 1 ? preview.tapes : []);

  async function enter(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    const entered = await (batch ?? session).enter();
    if (batch && batch.waiting.length > 0) partial = [...partial, ...entered];
    else if (entered.length > 0) ondone([...partial, ...entered]);
  }
</script>

<section aria-label="Intake">
  <h2>{batch ? `${batch.files.length} files` : file.name} <span>{sizeText}</span></h2>
  {#if preview}
    <ReadingSentence {session} {preview} />
    <RowsAsRead {session} {preview} />
  {:else if !session.problem}
    <p class="wait" role="status">Looking into the file…</p>
  {/if}
  {#if session.problem}
    <div class="problem" role="alert">
      <p><Said text={session.problem.detail} /></p>
      {#if session.problem.rejected && session.problem.rejected.length > 0}
        <ul>
          {#each session.problem.rejected.slice(0, 8) as { line, reason } (line)}<li>
              <span>line {line}</span>
              <Said text={reason} />
            </li>{/each}
        </ul>
        <Button
          look="word"
          onclick={() => {
            session.treatments.unreadable = 'leave-out';
            void session.enter().then((entered) => entered.length > 0 && ondone(entered));
          }}>Leave these lines out and enter the rest</Button
        >
      {/if}
    </div>
  {/if}
  <form onsubmit={enter}>
    {#if batch}<BatchFiles {batch} />{/if}
    {#if preview && several.length > 0}<TapesMade {session} {preview} />{/if}
    {#if !batch && (several.length === 0 || session.isNamedByColumn)}
      <Label class={LABEL}
        >{several.length > 0 ? 'Name, before that of each column' : 'Name'}
        <Input class={FIELD} bind:value={session.name} required autocomplete="off" spellcheck="false" /></Label
      >
    {/if}
    {#if calendars.length > 0 && preview?.precision !== 'period'}
      <label class="calendar"
        >Calendar
        <Select
          isWide
          class="pt-1 text-[16px]"
          value={session.calendar}
          aria-label="Calendar"
          onchange={(event) => session.setCalendar(calendars.find(({ name }) => name === event.currentTarget.value))}
        >
          <option value="">own trading hours</option>
          {#each calendars as { name } (name)}<option value={name}>{name}</option>{/each}
        </Select>
        {#if chosenCalendar}<span>{calendarText(chosenCalendar)}</span>{/if}
      </label>
    {/if}
    {#if preview?.precision !== 'period' && !chosenCalendar}
      <div>
        <Label class={LABEL}>
          Zone of its times <Input
            class={FIELD}
            bind:value={session.zone}
            list="zones"
            required
            autocomplete="off"
            spellcheck="false"
            oninput={() => session.typeZone(zones.includes(session.zone.trim()))}
            onchange={() => session.typeZone(true)}
          />
        </Label>
        <div class="beside">
          {#if preview?.hasOffsets}<span class="reason"
              >The times have offsets: the zone only sets where days begin.</span
            >
          {:else if session.zone !== ownZone}<Button onclick={() => session.setZone(ownZone)}>take {ownZone}</Button
            >{/if}
        </div>
      </div>
      <Label class={LABEL}>
        Session, if it has one <Input
          class={FIELD}
          bind:value={session.session}
          placeholder="none: the whole day"
          autocomplete="off"
          oninput={() => session.lookSoon()}
        />
      </Label>
      <Label class={LABEL}
        >Weekdays <Input
          class={FIELD}
          bind:value={session.weekdays}
          autocomplete="off"
          placeholder="those of its records"
          oninput={() => session.lookSoon()}
        /></Label
      >
      <Label class={LABEL}>
        Closed dates <Input
          class={FIELD}
          bind:value={session.closed}
          placeholder="2026-12-25, 2026-12-24 12:00"
          autocomplete="off"
        />
      </Label>
    {/if}
    <Label class={LABEL}
      >{preview?.reading.kind === 'series' ? 'Values' : 'Prices'} are in <Input
        class={FIELD}
        bind:value={session.unit}
        placeholder={preview?.reading.kind === 'series' ? 'tonnes' : 'crowns a bale'}
        autocomplete="off"
      /></Label
    >
    <datalist id="zones"
      >{#each zones as known (known)}<option value={known}></option>{/each}</datalist
    >
    <!-- its place stays, so that what is under it stays where it is when an answer comes -->
    <p class="several hours" role="status">
      {#if preview?.hidden}{hiddenText(preview.hidden)}{/if}
      {#if preview?.session && !session.session.trim() && !chosenCalendar}
        {guessText(preview.session, `All ${preview.sampleRows.toLocaleString('en')} rows`)}
        <Button look="word" onclick={() => session.setSession(preview.session!)}>Use as session</Button>
      {/if}
    </p>
    {#if session.sharedRows > 0 && !session.appendTo}
      <p class="several shared">
        {session.sharedRows.toLocaleString('en')} of the {preview!.sampleRows.toLocaleString('en')} rows in the sample
        {session.sharedRows === 1 ? 'shares its' : 'share their'} time with an earlier row. Bars show <SharedTimesChoice
          bind:value={session.sharedTimes}
        />; every row is imported.
      </p>
    {/if}
    {#if preview}<CheckChoices {session} {preview} />{/if}
    <div class="act">
      <Button
        look="solid"
        type="submit"
        disabled={isEntering ||
          (!preview && !session.problem) ||
          !(batch?.isReady ?? true) ||
          (preview?.problem ?? null) !== null ||
          (preview?.open.length ?? 0) > 0}
      >
        {session.appendTo ? `Add to ${session.appendTo}` : partial.length > 0 ? 'Retry the others' : 'Import'}
      </Button>
      {#if isEntering}
        <Button onclick={() => (batch ?? session).stop()}>stop</Button>
        <span class="under-way" role="status">
          <Progressbar
            progress={(100 * (batch ? batch.bytes : (progress?.bytes ?? 0))) / bytes}
            size="h-0.5"
            color="primary"
          />
          {#if batch}
            {batch.files.length - batch.waiting.length} of {batch.files.length} files entered
          {:else if progress}
            {progress.rows.toLocaleString('en')} records, {(progress.rowsPerSecond / 1e6).toFixed(2)} million a second, {Math.ceil(
              progress.secondsLeft || 0,
            )} s left
          {:else}reading…{/if}
        </span>
      {:else}
        <Button onclick={() => ondone(partial.length > 0 ? partial : undefined)}
          >{partial.length > 0 ? 'leave the others' : 'Cancel'}</Button
        >
        {#if shelf.length > 0 && !batch}
          <label class="append">
            or add it to
            <Select bind:value={session.appendTo} aria-label="Add to a tape">
              <option value="">no tape: a new one</option>
              {#each shelf as name (name)}<option value={name}>{name}</option>{/each}
            </Select>
          </label>
        {/if}
        {#if preview && session.profileKept === ''}
          <span class="keep">
            <Input
              bind:value={profileName}
              placeholder="save these settings as…"
              aria-label="Name of the import settings"
            />
            <Button disabled={!profileName.trim()} onclick={() => session.keepReading(profileName.trim())}>save</Button>
          </span>
        {:else if session.profileKept}<span class="keep" role="status">saved as {session.profileKept}</span>{/if}
      {/if}
    </div>
  </form>
</section>

<style>
  section {
    padding: 14px 20px 18px;
    border-bottom: 1px solid var(--rule);
    background: var(--paper-raised);
  }
  h2 {
    font-size: 18px;
  }
  h2 span {
    font-weight: 400;
    font-size: 14px;
    color: var(--quiet);
    margin-left: 8px;
  }
  .wait {
    color: var(--quiet);
    font-style: italic;
  }
  form {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
    gap: 10px 24px;
    align-content: start;
    margin-top: 14px;
  }
  .beside {
    font-size: 13px;
    line-height: 1.3;
    color: var(--quiet);
  }
  .several {
    grid-column: 1 / -1;
    margin: 0;
  }
  .hours {
    min-height: 1.5em;
  }
  .act {
    grid-column: 1 / -1;
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 10px 16px;
    margin-top: 2px;
  }
  .under-way {
    flex: 1;
    min-width: 260px;
    font-size: 14px;
    color: var(--quiet);
  }
  .calendar {
    font-size: 14px;
    color: var(--quiet);
  }
  .calendar span {
    display: block;
    font-size: 13px;
  }
  .append,
  .keep {
    font-size: 14px;
    color: var(--quiet);
  }
  .problem {
    margin-top: 12px;
    color: var(--wrong);
  }
  .problem p {
    margin: 0;
  }
  .problem ul {
    margin: 6px 0 10px;
    padding: 0;
    list-style: none;
    color: var(--ink);
    font-size: 14px;
  }
  .problem li span {
    display: inline-block;
    min-width: 70px;
    color: var(--quiet);
  }
</style>
