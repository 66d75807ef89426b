<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import Button from '$lib/components/Button.svelte';
  import Select from '$lib/components/Select.svelte';
  import Said from '$lib/components/Said.svelte';
  import type { BatchFile, BatchSession } from './batchSession.svelte';
  import type { Joining } from './batchNames';

  let { batch }: { batch: BatchSession } = $props();

  const STATES = { new: '', waiting: 'waits', entering: 'is read…', entered: '', failed: 'Not entered.' };
  const isByInstrument = $derived(!batch.lead.isNamedByColumn);
  const different = $derived(batch.files.filter((file) => file.preview !== undefined && !batch.isAlike(file)).length);

  const textOf = (file: BatchFile) => {
    if (file.says) return file.says;
    if (file.preview === undefined) return '';
    return batch.isAlike(file) ? '' : 'other columns: read by itself';
  };
  /** From when to when, as far as the end of a file is told. */
  const spanOf = ({ from, to }: BatchFile) => (from === to ? from : `${from} to ${to}`).replaceAll(/T00:00:00Z/g, '');
</script>

<div class="files">
  <p>
    {batch.files.length} files{#if different > 0}, {different} of which {different === 1 ? 'has' : 'have'} other columns{/if},
    <Select
      look="word"
      aria-label="What the files make"
      value={batch.joining}
      disabled={batch.isEntering}
      onchange={(event) => (batch.joining = event.currentTarget.value as Joining)}
    >
      <option value="join">joined, a tape for each {isByInstrument ? 'instrument' : 'name'}</option>
      <option value="apart">a tape each</option>
    </Select>. The reading above is that of <em>{batch.lead.file.name}</em> and holds for all that look like it.
    {#if batch.looked < batch.files.length}<span role="status">{batch.looked} reading…</span>{/if}
  </p>
  <div class="scroll">
    <Table look="listing" aria-label="Files">
      <thead
        ><tr
          ><th scope="col">file</th><th scope="col" class="figure">kB</th><th scope="col">records</th><th scope="col"
            >tape</th
          ><th scope="col">state</th><th></th></tr
        ></thead
      >
      <tbody>
        {#each batch.files as file, at (file.file)}
          <tr>
            <th scope="row">{file.file.name}</th>
            <td class="figure">{(file.file.size / 1000).toFixed(1)}</td>
            <td>{spanOf(file)}</td>
            <td>{isByInstrument ? 'by instrument' : batch.tapes[at]}</td>
            <td class:wrong={file.state === 'failed'}
              >{STATES[file.state]}
              {#if textOf(file)}<Said text={textOf(file)} />{/if}</td
            >
            <td
              >{#if !batch.isEntering && file.state !== 'entered' && batch.files.length > 1}<Button
                  aria-label="Leave {file.file.name} out"
                  onclick={() => batch.leaveOut(file)}>leave out</Button
                >{/if}</td
            >
          </tr>
        {/each}
      </tbody>
    </Table>
  </div>
</div>

<style>
  .files {
    grid-column: 1 / -1;
  }
  p {
    margin: 0 0 4px;
  }
  .scroll {
    max-height: 260px;
    overflow: auto;
  }
  td:nth-child(5) {
    white-space: normal;
    min-width: 160px;
  }
  .wrong {
    color: var(--wrong);
  }
</style>
