<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import Input from '$lib/components/Input.svelte';
  import Select from '$lib/components/Select.svelte';
  import { ROLES } from '@jaunty-ledger/files/reading/reading';
  import type { ReadingPreview } from '@jaunty-ledger/files/reading/preview';
  import Said from '$lib/components/Said.svelte';
  import { evenPlaces } from './evenPlaces';
  import type { IntakeSession } from './intakeSession.svelte';

  let { session, preview }: { session: IntakeSession; preview: ReadingPreview } = $props();

  const reading = $derived(preview.reading);
  const TEXTS: Record<string, string> = {
    skip: 'left out',
    clock: 'time of day',
    bidSize: 'bid size',
    askSize: 'ask size',
    text: 'a text',
    number: 'a number',
  };

  /** What the rows are read as, figures under one another. */
  const read = $derived.by(() => {
    const rows = [...preview.first, ...preview.last].filter((row) => row.read);
    const columns = preview.columns.map((_, column) => evenPlaces(rows.map((row) => row.read![column])));
    return new Map(rows.map((row, index) => [row, columns.map((column) => column[index])]));
  });
  const timeTitle = $derived({ moment: 'time, UTC', period: 'period' }[preview.precision as string] ?? 'time');
  /** Single values are called as the file calls them. */
  const valueTitle = $derived(reading.columns.find(({ role }) => role === 'value')?.name || 'value');
  const titleOf = (name: string, index: number) =>
    index === 0 ? timeTitle : reading.kind === 'series' && name === 'price' ? valueTitle : name;
  const isNumber = (index: number) => preview.columns[index] !== 'time' && !isText(index);
  const isText = (index: number) =>
    [...read.values()].some((row) => row[index] !== '' && Number.isNaN(Number(row[index])));

  /** So many columns push what is read out of view: it stands before them then. */
  const MOST_BEFORE = 7;
  const isReadFirst = $derived(preview.names.length > MOST_BEFORE);

  const KEPT: readonly string[] = ['text', 'number', 'value'];

  function setRole(index: number, role: string): void {
    const name = KEPT.includes(role) ? preview.names[index].replaceAll(/[^A-Za-z0-9]+/g, '_') : '';
    void session.setColumn(index, { role, name });
  }
  function rename(index: number, name: string): void {
    const column = reading.columns[index];
    void session.setColumn(index, { ...column, name: name.trim() || column.name });
  }
</script>

{#snippet asRead(row: ReadingPreview['first'][number])}
  {@const values = read.get(row)}
  {#if values}
    {#each values as value, column (column)}<td class="read" class:first={column === 0} class:figure={isNumber(column)}
        >{value || '–'}</td
      >{/each}
  {:else}
    <td class="read first reason" colspan={preview.columns.length}
      ><Said text={row.reason || preview.problem || 'not read'} /></td
    >
  {/if}
{/snippet}

{#snippet readTitles()}
  {#each preview.columns as name, index (index)}<th
      scope="col"
      class="read"
      class:first={index === 0}
      class:figure={isNumber(index)}>{titleOf(name, index)}</th
    >{/each}
{/snippet}

{#snippet rows(list: ReadingPreview['first'])}
  {#each list as row, index (index)}
    {@const { line, cells } = row}
    <tr>
      <td class="line">{line || ''}</td>
      {#if isReadFirst}{@render asRead(row)}{/if}
      {#each preview.names as _, column (column)}<td
          class="raw"
          class:skipped={reading.columns[column]?.role === 'skip'}>{cells[column] ?? ''}</td
        >{/each}
      {#if !isReadFirst}{@render asRead(row)}{/if}
    </tr>
  {/each}
{/snippet}

{#if preview.problem}<p class="problem" role="alert"><Said text={preview.problem} /></p>{/if}
<div class="scroll">
  <Table look="listing" class="text-[13px]">
    <thead>
      <tr>
        <th></th>
        {#if isReadFirst}{@render readTitles()}{/if}
        {#each preview.names as name, index (index)}
          <th scope="col">
            <span class="name">{name}</span>
            <Select
              class="font-semibold not-italic"
              aria-label="What {name} is"
              value={reading.columns[index]?.role ?? 'skip'}
              onchange={(event) => setRole(index, event.currentTarget.value)}
            >
              {#each ROLES[reading.kind] as role (role)}<option value={role}>{TEXTS[role] ?? role}</option>{/each}
            </Select>
            {#if KEPT.includes(reading.columns[index]?.role ?? '')}
              <Input
                class="block w-[110px]! not-italic"
                value={reading.columns[index].name}
                aria-label="New name of {name}"
                onchange={(event) => rename(index, event.currentTarget.value)}
              />
            {/if}
          </th>
        {/each}
        {#if !isReadFirst}{@render readTitles()}{/if}
      </tr>
    </thead>
    <tbody>
      {@render rows(preview.first)}
      {#if preview.last.length > 0}
        <tr class="cut"><td colspan={1 + preview.names.length + preview.columns.length}>…</td></tr>
        {@render rows(preview.last)}
      {/if}
    </tbody>
  </Table>
</div>

<style>
  .scroll {
    overflow-x: auto;
  }
  th,
  td {
    text-align: left;
    padding: 1px 14px 1px 0;
    white-space: nowrap;
    font-weight: 400;
    vertical-align: bottom;
    max-width: 260px;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  thead th {
    padding-bottom: 4px;
    color: var(--quiet);
    font-style: italic;
  }
  .name {
    display: block;
    font-size: 12px;
  }
  .line {
    color: var(--quiet);
    text-align: right;
    padding-right: 12px;
  }
  .raw {
    font-family: var(--mono);
    font-size: 12px;
  }
  .skipped {
    color: var(--quiet);
    opacity: 0.7;
  }
  .first {
    border-left: 4px double var(--margin-rule);
    padding-left: 12px;
  }
  .figure {
    text-align: right;
  }
  .reason {
    color: var(--wrong);
  }
  .cut td {
    color: var(--quiet);
    line-height: 1;
  }
  .problem {
    color: var(--wrong);
    margin: 0 0 8px;
  }
</style>
