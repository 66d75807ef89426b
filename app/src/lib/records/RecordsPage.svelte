<script lang="ts">
  import { invalidate } from '$app/navigation';
  import { deleteTape, restoreTape } from '$lib/api/client';
  import { Refusal } from '$lib/api/problems';
  import type { Tape } from '$lib/api/tapes';
  import Said from '$lib/components/Said.svelte';
  import { filesOfDrop, unpackedZips } from './droppedFiles';
  import Intake from './Intake.svelte';
  import { kindText, reportText, spanText, sparkPath } from './shelfModel';

  let { tapes }: { tapes: Tape[] } = $props();

  let files = $state.raw<File[]>([]);
  let isOver = $state(false);
  let deleted = $state('');
  let problem = $state('');
  let entered = $state<string[]>([]);
  let picker: HTMLInputElement;

  function take(taken: File[]): void {
    if (taken.length === 0) return;
    files = taken;
    entered = [];
  }

  async function drop(event: DragEvent): Promise<void> {
    event.preventDefault();
    isOver = false;
    if (event.dataTransfer) take(await filesOfDrop(event.dataTransfer));
  }

  async function done(tapes: Tape[] | undefined): Promise<void> {
    files = [];
    picker.value = '';
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
      problem = error instanceof Refusal ? error.problem.detail : String(error);
      return false;
    }
  }

  async function remove(name: string): Promise<void> {
    if (await attempt(() => deleteTape(fetch, name))) deleted = name;
  }

  async function bringBack(name: string): Promise<void> {
    if (await attempt(() => restoreTape(fetch, name))) deleted = '';
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
  <header>
    <p class="book"><strong>Jaunty Ledger</strong> <em>Records</em></p>
    <h1>
      {tapes.length === 0 ? 'No tapes yet' : `${tapes.length} ${tapes.length === 1 ? 'tape' : 'tapes'} on the shelf`};
      <label class="word"
        >choose files<input
          bind:this={picker}
          class="visually-hidden"
          type="file"
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
      lines that cannot be read.
    </p>
  </header>

  {#if files.length > 0}
    {#key files}<Intake {files} {tapes} ondone={done} />{/key}
  {/if}
  {#if problem}<p class="problem" role="alert"><Said text={problem} /></p>{/if}
  {#if entered.length > 0}
    <p class="entered" role="status">
      {#if entered.length === 1}{entered[0]} is on the shelf. <a href="/records/{entered[0]}">See what came</a>, or
        <a href="/ledger?tape={entered[0]}">open its ledger</a>.
      {:else}{entered.length} tapes are on the shelf. See what came of
        {#each entered.slice(0, 12) as name, index (name)}{index > 0 ? ', ' : ' '}<a href="/records/{name}">{name}</a
          >{/each}{entered.length > 12 ? ` and ${entered.length - 12} more` : ''}.{/if}
    </p>
  {/if}
  {#if deleted}
    <p class="entered" role="status">
      {deleted} is deleted. <button type="button" class="word" onclick={() => bringBack(deleted)}>Bring it back</button>
    </p>
  {/if}

  {#if tapes.length > 0}
    <div class="scroll">
      <table>
        <thead>
          <tr>
            <th scope="col">Tape</th>
            <th scope="col">Holds</th>
            <th scope="col" class="number">Records</th>
            <th scope="col">From … to</th>
            <th scope="col">Price</th>
            <th scope="col">State</th>
            <th scope="col"><span class="visually-hidden">Actions</span></th>
          </tr>
        </thead>
        <tbody>
          {#each tapes as tape (tape.name)}
            <tr>
              <th scope="row"><a href="/ledger?tape={tape.name}" title={tape.note || undefined}>{tape.name}</a></th>
              <td>{kindText(tape)}</td>
              <td class="number">{tape.rows.toLocaleString('en')}</td>
              <td>{spanText(tape)}</td>
              <td>
                <svg
                  viewBox="0 0 120 22"
                  width="120"
                  height="22"
                  role="img"
                  aria-label="Price of {tape.name} over its span"><path d={sparkPath(tape.spark, 120, 22)} /></svg
                >
              </td>
              <td class="quiet">{reportText(tape)}</td>
              <td class="actions">
                <a class="aside" href="/records/{tape.name}" aria-label="What came as {tape.name}">records</a>
                <button type="button" class="aside" onclick={() => remove(tape.name)} aria-label="Delete {tape.name}"
                  >delete</button
                >
              </td>
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
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
  header {
    padding: 14px 20px 12px;
    border-bottom: 1px solid var(--rule);
  }
  .book {
    margin: 0 0 4px;
    font-size: 16px;
  }
  .book em {
    color: var(--quiet);
  }
  h1 {
    font-size: 22px;
    font-weight: 400;
    line-height: 1.5;
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
  .scroll {
    overflow-x: auto;
  }
  table {
    border-collapse: collapse;
    width: 100%;
    font-size: 15px;
  }
  th,
  td {
    text-align: left;
    padding: 7px 12px;
    border-bottom: 1px solid var(--rule-faint);
    white-space: nowrap;
    font-weight: 400;
  }
  thead th {
    font-style: italic;
    color: var(--quiet);
    border-bottom-color: var(--rule);
    font-size: 13.5px;
  }
  th:first-child {
    padding-left: 20px;
    border-right: 4px double var(--margin-rule);
    width: 180px;
  }
  tbody th {
    font-weight: 600;
  }
  .number {
    text-align: right;
  }
  td path {
    fill: none;
    stroke: var(--blue);
    stroke-width: 1.2;
  }
  td.quiet {
    white-space: normal;
    min-width: 110px;
  }
  .quiet,
  .actions {
    color: var(--quiet);
  }
  .actions {
    text-align: right;
    padding-right: 20px;
  }
</style>
