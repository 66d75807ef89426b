<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import FileInput from '$lib/components/FileInput.svelte';
  import { onMount } from 'svelte';
  import { invalidate } from '$app/navigation';
  import { deleteTape, makeDemoWorld, restoreTape } from '$lib/api/client';
  import { reasonOf } from '$lib/api/problems';
  import type { ShelfLine } from '$lib/api/shelf';
  import type { ListedCalendar } from '$lib/api/calendars';
  import type { Tape } from '$lib/api/tapes';
  import Said from '$lib/components/Said.svelte';
  import { takeCarried } from './carriedFiles';
  import { filesOfDrop, MOST_FILES, unpackedZips } from './droppedFiles';
  import Intake from './Intake.svelte';
  import Shelf from './Shelf.svelte';

  let { lines, calendars }: { lines: ShelfLine[]; calendars: ListedCalendar[] } = $props();

  let files = $state.raw<File[]>([]);
  let isOver = $state(false);
  let deleted = $state<string[]>([]);
  let isMaking = $state(false);
  let problem = $state('');
  let entered = $state<string[]>([]);
  let picker = $state<HTMLInputElement>();

  function take(taken: File[]): void {
    if (taken.length === 0) return;
    problem = '';
    if (taken.length > MOST_FILES) {
      problem = `These are more than ${MOST_FILES.toLocaleString('en')} files. Enter them in parts, a folder at a time.`;
      return;
    }
    files = taken;
    entered = [];
  }

  /** Takes files that were dropped; a folder may be one that cannot be read. */
  async function takeDropped(dropped: Promise<File[]> | undefined): Promise<void> {
    try {
      take((await dropped) ?? []);
    } catch (error) {
      problem = `What was dropped could not be read: ${reasonOf(error)}. Try again, or choose the files.`;
    }
  }

  function drop(event: DragEvent): void {
    event.preventDefault();
    isOver = false;
    if (event.dataTransfer) void takeDropped(filesOfDrop(event.dataTransfer));
  }

  // files that were dropped on the page before
  onMount(() => void takeDropped(takeCarried()));

  async function done(tapes: Tape[] | undefined): Promise<void> {
    files = [];
    if (picker) picker.value = ''; // the same file can be chosen again
    if (!tapes) return;
    await invalidate('app:tapes');
    entered = tapes.map(({ name }) => name);
  }

  async function attempt(work: () => Promise<unknown>): Promise<boolean> {
    problem = '';
    try {
      await work();
      await invalidate('app:tapes');
      return true;
    } catch (error) {
      problem = reasonOf(error);
      return false;
    }
  }

  async function remove(names: string[]): Promise<void> {
    deleted = [];
    await attempt(async () => {
      for (const name of names) {
        await deleteTape(fetch, name);
        deleted = [...deleted, name];
      }
    });
  }

  async function bringBack(): Promise<void> {
    await attempt(async () => {
      for (const name of deleted) {
        await restoreTape(fetch, name);
        deleted = deleted.filter((other) => other !== name);
      }
    });
  }

  async function makeDemo(): Promise<void> {
    isMaking = true;
    await attempt(() => makeDemoWorld(fetch));
    await invalidate('app:calendars');
    isMaking = false;
  }
</script>

<svelte:window
  ondragover={(event) => {
    event.preventDefault();
    isOver = true;
  }}
  ondragleave={(event) => {
    if (!event.relatedTarget) isOver = false;
  }}
  ondrop={drop}
/>

<div class="page" class:over={isOver}>
  <header class="page-head">
    <p class="book"><strong>Jaunty Ledger</strong> <em>Records</em></p>
    <h1>
      {lines.length === 0
        ? 'No tapes yet'
        : `${lines.length.toLocaleString('en')} ${lines.length === 1 ? 'tape' : 'tapes'} on the shelf`};
      <label class="word"
        >choose files<FileInput
          bind:element={picker}
          multiple
          onchange={async (event) => take(await unpackedZips([...(event.currentTarget.files ?? [])]))}
        /></label
      >
      or drop some anywhere on this page.
    </h1>
    <p class="hint">
      Trades, quotes, bars or dated values, as text of any common form, spreadsheets, JSON, Parquet or Arrow, packed or
      not; one file, several, or a folder. To try it, take the
      <a href="/records/flawed" download>file with flaws</a>: it has repeats, late records, a slipped decimal point and
      lines that cannot be read. Hours and days that many tapes share are <a href="/calendars">calendars</a>.
    </p>
  </header>

  {#if files.length > 0}
    {#key files}<Intake {files} shelf={lines.map(({ name }) => name)} {calendars} ondone={done} />{/key}
  {/if}
  {#if problem}<p class="problem" role="alert"><Said text={problem} /></p>{/if}
  {#if entered.length > 0}
    <p class="entered" role="status">
      {#if entered.length === 1}{entered[0]} was imported. <a href="/records/{entered[0]}">Import report</a>, or
        <a href="/ledger?tape={entered[0]}">open its ledger</a>.
      {:else}{entered.length} tapes were imported. Import reports:
        {#each entered.slice(0, 12) as name, index (name)}{index > 0 ? ', ' : ' '}<a href="/records/{name}">{name}</a
          >{/each}{entered.length > 12 ? ` and ${entered.length - 12} more` : ''}.{/if}
    </p>
  {/if}
  {#if deleted.length > 0}
    <p class="entered" role="status">
      {deleted.length === 1 ? `${deleted[0]} is` : `${deleted.length} tapes are`} deleted.
      <Button look="word" onclick={bringBack}>Bring {deleted.length === 1 ? 'it' : 'them'} back</Button>
    </p>
  {/if}

  {#if lines.length > 0}
    <Shelf {lines} {calendars} ondelete={remove} onchanged={() => invalidate('app:tapes')} />
  {:else if files.length === 0}
    <ol class="first">
      <li>
        Drop a file of your own: prices with their times, in any form. You see how it is read before anything is
        imported.
      </li>
      <li>Open its ledger: choose bars and add formulas to the price chart.</li>
      <li>
        Or look about first in a made-up market: <Button look="word" disabled={isMaking} onclick={makeDemo}
          >{isMaking ? 'making the Tarn Harbour Exchange…' : 'make the Tarn Harbour Exchange'}</Button
        >, six instruments as trades, minutes and days.
      </li>
    </ol>
  {/if}
</div>

<style>
  .page {
    min-height: 100dvh;
    box-sizing: border-box;
    padding-bottom: 40px;
  }
  .over {
    box-shadow: inset 0 0 0 3px var(--blue);
  }
  label.word {
    cursor: pointer;
    display: inline;
  }
  label:focus-within {
    outline: 2px solid var(--blue);
    outline-offset: 2px;
  }
  .hint {
    margin: 2px 0 0;
    color: var(--quiet);
    font-size: 14px;
    max-width: 62rem;
  }
  .problem,
  .entered {
    margin: 0;
    padding: 10px 20px;
    border-bottom: 1px solid var(--rule);
  }
  .problem {
    color: var(--wrong);
  }
  .first {
    list-style: decimal;
    padding: 18px 20px 18px 40px;
    margin: 0;
    line-height: 1.9;
    max-width: 60rem;
  }
</style>
