<script lang="ts">
  import { RowWindow } from '$lib/components/rowWindow.svelte';
  import Table from '$lib/components/Table.svelte';
  import Button from '$lib/components/Button.svelte';
  import Checkbox from '$lib/components/Checkbox.svelte';
  import Input from '$lib/components/Input.svelte';
  import Select from '$lib/components/Select.svelte';
  import { levelsOf, type ShelfLine } from '$lib/api/shelf';
  import ShelfActs from './ShelfActs.svelte';
  import { kindText, spanText, sparkPath, stateText } from './shelfModel';
  import { arranged, tagsOf, WHOLE_SHELF, type ShelfView, type SortColumn } from './shelfOrder';

  interface Props {
    lines: readonly ShelfLine[];
    calendars: readonly { name: string }[];
    /** Told which tapes are to be deleted. */
    ondelete: (names: string[]) => Promise<void>;
    /** Told that tapes were changed. */
    onchanged: () => Promise<void>;
  }
  let { lines, calendars, ondelete, onchanged }: Props = $props();

  const ROW_PX = 38;
  /** Rows beyond those in sight, so that a quick hand sees no blank ones. */
  const AROUND = 6;
  const COLUMNS: readonly { by: SortColumn; says: string; isNumber?: true }[] = [
    { by: 'kind', says: 'Holds' },
    { by: 'rows', says: 'Records', isNumber: true },
    { by: 'from', says: 'From … to' },
  ];
  const KINDS = [
    ['', 'all kinds'],
    ['ticks', 'trades'],
    ['quotes', 'quotes'],
    ['bars', 'bars'],
    ['series', 'dated values'],
  ];

  let view = $state<ShelfView>({ ...WHOLE_SHELF });
  let chosen = $state<ReadonlySet<string>>(new Set());
  let body = $state<HTMLElement>();

  const placed = $derived(arranged(lines, view));
  const tags = $derived(tagsOf(lines));
  const inSight = new RowWindow(() => placed.length, ROW_PX, AROUND, 800);
  const shown = $derived(placed.slice(inSight.first, inSight.end));
  const chosenShown = $derived(placed.filter(({ line }) => chosen.has(line.name)).length);
  const isFiltered = $derived(view.text !== '' || view.kind !== '' || view.tag !== '');

  function follow(): void {
    if (body) inSight.topPx = -body.getBoundingClientRect().top;
  }

  function sortBy(column: SortColumn): void {
    view.descending = view.sort === column ? !view.descending : column === 'rows';
    view.sort = column;
  }

  function choose(name: string, isChosen: boolean): void {
    const next = new Set(chosen);
    if (isChosen) next.add(name);
    else next.delete(name);
    chosen = next;
  }

  const chooseAll = (isChosen: boolean) => (chosen = new Set(isChosen ? placed.map(({ line }) => line.name) : []));

  const sortOf = (column: SortColumn) =>
    view.sort !== column ? undefined : view.descending ? ('descending' as const) : ('ascending' as const);
</script>

<svelte:window onscroll={follow} bind:innerHeight={inSight.heightPx} />

{#snippet heading(by: SortColumn, says: string)}
  <Button look="bare" class="hover:text-(--ink)" onclick={() => sortBy(by)}
    >{says}{#if view.sort === by}<span aria-hidden="true">{view.descending ? ' ↓' : ' ↑'}</span>{/if}</Button
  >
{/snippet}

<div class="find" role="search" aria-label="The shelf">
  <Input
    class="w-67.5! py-0.5 text-[15px]"
    type="search"
    bind:value={view.text}
    placeholder="find a tape by name, note or tag"
    aria-label="Find a tape"
    spellcheck="false"
    autocomplete="off"
  />
  <Select class="py-0.5 text-[15px]" bind:value={view.kind} aria-label="Kind"
    >{#each KINDS as [kind, says] (kind)}<option value={kind}>{says}</option>{/each}</Select
  >
  {#if tags.length > 0}
    <Select class="py-0.5 text-[15px]" bind:value={view.tag} aria-label="Tag"
      ><option value="">all tags</option>{#each tags as tag (tag)}<option value={tag}>{tag}</option>{/each}</Select
    >
  {/if}
  <span class="count" role="status"
    >{#if isFiltered}{placed.length.toLocaleString('en')} of {lines.length.toLocaleString('en')}{/if}</span
  >
</div>
{#if chosen.size > 0}
  <ShelfActs
    names={[...chosen]}
    hidden={chosen.size - chosenShown}
    {calendars}
    {tags}
    {ondelete}
    {onchanged}
    ondone={() => (chosen = new Set())}
  />
{/if}
<div class="scroll">
  <Table look="listing" class="w-full min-w-[1120px] table-fixed text-[15px]" aria-rowcount={placed.length + 1}>
    <colgroup
      ><col style:width="200px" /><col style:width="170px" /><col style:width="110px" /><col style:width="240px" /><col
        style:width="150px"
      /><col /><col style:width="150px" /></colgroup
    >
    <thead>
      <tr aria-rowindex="1">
        <th scope="col" aria-sort={sortOf('name')}
          ><Checkbox
            class="me-2.5"
            aria-label="Choose all tapes shown"
            checked={placed.length > 0 && chosenShown === placed.length}
            indeterminate={chosenShown > 0 && chosenShown < placed.length}
            onchange={(event) => chooseAll(event.currentTarget.checked)}
          />{@render heading('name', 'Tape')}</th
        >
        {#each COLUMNS as { by, says, isNumber } (by)}<th scope="col" class:number={isNumber} aria-sort={sortOf(by)}
            >{@render heading(by, says)}</th
          >{/each}
        <th scope="col">Price</th>
        <th scope="col" aria-sort={sortOf('state')}>{@render heading('state', 'State')}</th>
        <th scope="col"><span class="visually-hidden">Actions</span></th>
      </tr>
    </thead>
    <tbody bind:this={body}>
      {#if inSight.first > 0}<tr aria-hidden="true" style:height="{inSight.abovePx}px"><td colspan="7"></td></tr>{/if}
      {#each shown as { line, isFurther }, at ((inSight.first + at) % inSight.size)}
        <tr aria-rowindex={inSight.first + at + 2} class:further={isFurther}>
          <th scope="row"
            ><Checkbox
              class="me-2.5"
              aria-label="Choose {line.name}"
              checked={chosen.has(line.name)}
              onchange={(event) => choose(line.name, event.currentTarget.checked)}
            /><a href="/ledger?tape={line.name}" title={line.note || undefined}>{line.name}</a></th
          >
          <td>{kindText(line)}</td>
          <td class="number">{line.rows.toLocaleString('en')}</td>
          <td>{spanText(line)}</td>
          <td>
            <svg viewBox="0 0 120 22" width="120" height="22" role="img" aria-label="Price of {line.name} over its span"
              ><path d={sparkPath(levelsOf(line.picture), 120, 22)} /></svg
            >
          </td>
          <td class="quiet"
            >{stateText(line)}{#if line.tags.length > 0}<span class="tags">{line.tags.join(', ')}</span>{/if}</td
          >
          <td class="actions">
            <a class="aside" href="/records/{line.name}" aria-label="Import report of {line.name}">records</a>
            <Button onclick={() => ondelete([line.name])} aria-label="Delete {line.name}">delete</Button>
          </td>
        </tr>
      {/each}
      {#if inSight.end < placed.length}<tr aria-hidden="true" style:height="{inSight.belowPx}px"
          ><td colspan="7"></td></tr
        >{/if}
    </tbody>
  </Table>
  {#if placed.length === 0}<p class="none">No tape matches. Use fewer words.</p>{/if}
</div>

<style>
  .find {
    display: flex;
    flex-wrap: wrap;
    gap: 8px 18px;
    align-items: baseline;
    padding: 8px 20px;
    border-bottom: 1px solid var(--rule);
  }
  .count {
    color: var(--quiet);
    font-size: 14px;
  }
  .scroll {
    position: relative; /* holds what is hidden from sight in its cells */
    overflow-x: auto;
  }
  tbody tr {
    height: 38px;
  }
  th,
  td {
    text-align: left;
    padding: 0 12px;
    border-bottom: 1px solid var(--rule-faint);
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
    font-weight: 400;
  }
  thead th {
    padding: 6px 12px;
    font-style: italic;
    color: var(--quiet);
    border-bottom-color: var(--rule);
    font-size: 13.5px;
  }
  th:first-child {
    padding-left: 20px;
    border-right: 4px double var(--margin-rule);
  }
  tbody th {
    font-weight: 600;
  }
  .further th a {
    font-weight: 400;
    margin-left: 12px;
  }
  .number {
    text-align: right;
  }
  svg {
    display: block;
  }
  td path {
    fill: none;
    stroke: var(--blue);
    stroke-width: 1.2;
  }
  .quiet,
  .actions {
    color: var(--quiet);
  }
  .tags {
    font-style: italic;
    margin-left: 10px;
  }
  .actions {
    text-align: right;
    padding-right: 20px;
  }
  .none {
    padding: 10px 20px;
    margin: 0;
    color: var(--quiet);
  }
</style>
