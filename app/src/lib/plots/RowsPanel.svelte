<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import Button from '$lib/components/Button.svelte';
  import Checkbox from '$lib/components/Checkbox.svelte';
  import Input from '$lib/components/Input.svelte';
  import Select from '$lib/components/Select.svelte';
  import { untrack } from 'svelte';
  import { BAR_FIELDS, figureText, firstRowFrom, instantOf, periodInstant } from '@jaunty-ledger/core';
  import type { LedgerLane } from '$lib/api/ledgers';
  import { momentText } from '$lib/chart/calendarTicks';
  import { rowsInView } from '$lib/chart/viewWindow';
  import type { BarView } from './barView.svelte';
  import type { EntryResults } from './entryResults.svelte';
  import ColumnChoice from './ColumnChoice.svelte';
  import { chosenOf, nextBlank, nextExtreme, rowColumns, valueIn, type RowColumn } from './rowColumns';
  import Slip from './Slip.svelte';

  let {
    view,
    results,
    lanes,
    chosen: keys,
    choose,
    onclose,
  }: {
    view: BarView;
    results: EntryResults;
    lanes: readonly LedgerLane[];
    /** Columns that were chosen, in their order; all without. */
    chosen: readonly string[] | null;
    choose: (keys: string[] | null) => void;
    onclose: () => void;
  } = $props();

  const ROW_PX = 22;
  /** Words of a column to choose from. */
  const MOST_WORDS = 2000;
  /** Beyond this many pixels browsers stop to scroll; longer tables are scrolled in proportion. */
  const MOST_PX = 8_000_000;

  let scroller = $state<HTMLElement>();
  let heightPx = $state(200);
  let top = $state(0);
  let decimals = $state<number>();
  let isComplete = $state(false);
  /** The column of words that rows are filtered by, and the word. */
  let wordsOf = $state('');
  let word = $state('');
  let through = $state(0);
  let isChoosing = $state(false);
  let date = $state('');
  let told = $state('');

  const all = $derived(rowColumns({ view, results, lanes }, BAR_FIELDS));
  const columns = $derived(chosenOf(all, keys));
  const texts = $derived(all.filter(({ words }) => words !== undefined));
  const filtered = $derived(texts.find(({ key }) => key === wordsOf));
  const shownRows = $derived(isComplete || (filtered && word !== '') ? rowsThat() : undefined);
  /** With those to come that lines are drawn on. */
  const count = $derived(shownRows?.length ?? view.viewRows);
  const factor = $derived(Math.max(1, (count * ROW_PX) / MOST_PX));
  const first = $derived(
    Math.max(0, Math.min(count - Math.ceil(heightPx / ROW_PX), Math.floor((top * factor) / ROW_PX))),
  );
  const visible = $derived(
    Array.from({ length: Math.max(0, Math.min(Math.ceil(heightPx / ROW_PX) + 1, count - first)) }, (_, i) =>
      shownRows ? shownRows[first + i] : first + i,
    ),
  );

  // it opens where one looks
  $effect(() => {
    if (scroller)
      untrack(() => (scroller!.scrollTop = Math.max(0, (rowsInView(view.window, view.rows)[0] * ROW_PX) / factor)));
  });

  /** Rows that are complete and have the word, as far as that is asked. */
  function rowsThat(): Int32Array {
    const needed = isComplete ? columns.filter(({ entryId }) => entryId !== undefined) : [];
    const index = filtered && word !== '' ? filtered.words!.indexOf(word) : undefined;
    const rows: number[] = [];
    for (let row = 0; row < view.rows; row++) {
      if (index !== undefined && valueIn(filtered!, row) !== index) continue;
      if (needed.every((column) => !Number.isNaN(valueIn(column, row)))) rows.push(row);
    }
    return Int32Array.from(rows);
  }

  function show(row: number | undefined): void {
    if (row === undefined) {
      told = 'no further match';
      return;
    }
    told = '';
    view.pointer = row;
    const place = shownRows ? firstRowFrom(Float64Array.from(shownRows), row) : row;
    if (scroller) scroller.scrollTop = Math.max(0, ((place - 3) * ROW_PX) / factor);
    view.bringIntoView(row);
  }

  const goTo = (at: number) => Number.isNaN(at) || show(Math.min(view.rows - 1, firstRowFrom(view.bars!.time, at)));

  const timeOf = (row: number) =>
    row < view.times.length
      ? momentText(view.times[row], view.calendar, view.precision)
      : `${row - view.rows + 1} bars on`;

  function shown(column: RowColumn, row: number): string {
    if (row >= view.rows && column.shift <= 0) return '';
    const { unit, words, places } = column;
    const value = valueIn(column, row);
    if (words) return words[value] ?? '–';
    if ((decimals === undefined || decimals === null) && places !== undefined)
      return figureText(value, 'price', places);
    if (decimals === undefined || decimals === null) return figureText(value, unit, view.tape.priceDecimals);
    return Number.isNaN(value) ? '–' : value.toFixed(decimals).replace('-', '−');
  }

  const here = () => view.pointer ?? (shownRows ? shownRows[first] : first);
  /** The next row that a search finds in the column that is looked through. */
  function showNext(search: (values: Float64Array, after: number) => number | undefined): void {
    const column = columns[Math.min(through, columns.length - 1)];
    const row = search(column.values, here() - column.shift);
    show(row === undefined ? undefined : row + column.shift);
  }

  function openWorking({ entryId, shift }: RowColumn, row: number): void {
    if (row - shift >= 0 && row - shift < view.rows) view.openWorking(entryId, row - shift);
  }

  async function copy(): Promise<void> {
    const head = ['time', ...columns.map(({ name }) => name)].join('\t');
    const [from, to] = rowsInView(view.window, view.viewRows);
    const inView = shownRows?.filter((row) => row >= from && row < to);
    const rows = inView ?? Int32Array.from({ length: to - from }, (_, i) => from + i);
    const lines = Array.from(rows, (row) =>
      [
        timeOf(row),
        ...columns.map((column) => {
          const value = valueIn(column, row);
          return Number.isNaN(value) ? '' : (column.words?.[value] ?? String(value));
        }),
      ].join('\t'),
    );
    try {
      await navigator.clipboard.writeText([head, ...lines].join('\n'));
      told = `${lines.length.toLocaleString('en')} rows copied`;
    } catch (error) {
      if (!(error instanceof DOMException)) throw error;
      told = 'The browser does not let the page copy: use Export instead.';
    }
  }
</script>

<Slip title="Rows" side="foot" {onclose}>
  {#snippet tools()}
    <Button onclick={() => show(0)}>first</Button>
    <Button onclick={() => show(view.rows - 1)}>last</Button>
    <label class="aside"
      >{#if view.precision === 'period'}period <Input
          type="number"
          class="w-16!"
          onchange={(event) => goTo(periodInstant(event.currentTarget.valueAsNumber))}
        />{:else}day <Input
          type="date"
          bind:value={date}
          onchange={() => date && goTo(instantOf(`${date}T00:00:00Z`))}
        />{/if}</label
    >
    <label class="aside"
      >of <Select class="max-w-30" bind:value={through} aria-label="Column to look through">
        {#each columns as { name, words }, index (index)}{#if !words}<option value={index}>{name}</option>{/if}{/each}
      </Select></label
    >
    <Button onclick={() => showNext(nextBlank)}>next blank</Button>
    <Button onclick={() => showNext(nextExtreme)}>next extreme</Button>
    <label class="aside"
      >places <Input
        class="w-[4em]!"
        type="number"
        min="0"
        max="12"
        placeholder="own"
        bind:value={decimals}
        aria-label="Decimal places"
      /></label
    >
    <label class="aside"><Checkbox bind:checked={isComplete} /> complete rows only</label>
    {#if texts.length > 0}
      <label class="aside"
        >where <Select
          class="max-w-30"
          bind:value={wordsOf}
          aria-label="Column to filter by"
          onchange={() => (word = '')}
          ><option value="">all rows</option>
          {#each texts as { key, name } (key)}<option value={key}>{name}</option>{/each}
        </Select></label
      >
      {#if filtered}
        <label class="aside"
          >is <Select class="max-w-30" bind:value={word} aria-label="Word to filter by"
            ><option value="">any</option>
            {#each filtered.words!.slice(0, MOST_WORDS) as choice (choice)}<option value={choice}>{choice}</option
              >{/each}
          </Select></label
        >
        {#if word !== ''}<span class="told">{(shownRows?.length ?? 0).toLocaleString('en')} rows</span>{/if}
      {/if}
    {/if}
    <Button aria-expanded={isChoosing} onclick={() => (isChoosing = !isChoosing)}>columns</Button>
    <Button title="Copies the rows in view" onclick={copy}>copy</Button>
    <span class="told" role="status">{told}</span>
  {/snippet}
  {#if isChoosing}<ColumnChoice {all} {keys} {choose} />{/if}
  <!-- a long table is scrolled by keys, so it takes the focus -->
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <div
    class="scroller"
    bind:this={scroller}
    bind:clientHeight={heightPx}
    onscroll={() => (top = scroller!.scrollTop)}
    role="region"
    aria-label="Figures of the bars"
    tabindex="0"
  >
    <div class="whole" style:height="{Math.min(count * ROW_PX, MOST_PX) + ROW_PX}px">
      <Table
        look="figures"
        class="absolute left-0 text-[13px]"
        aria-rowcount={count}
        style="top: {factor === 1 ? first * ROW_PX : top}px"
      >
        <thead>
          <tr>
            <th scope="col">time</th>
            {#each columns as { name, title }, index (index)}<th scope="col" {title}>{name}</th>{/each}
          </tr>
        </thead>
        <tbody>
          {#each visible as row (row)}
            <tr class:here={row === view.pointer} aria-rowindex={row + 1} onpointerenter={() => (view.pointer = row)}>
              <th scope="row">{timeOf(row)}</th>
              {#each columns as column, index (index)}<td onclick={() => openWorking(column, row)}
                  >{shown(column, row)}</td
                >{/each}
            </tr>
          {/each}
        </tbody>
      </Table>
    </div>
  </div>
</Slip>

<style>
  .scroller {
    position: relative;
    height: 100%;
    overflow: auto;
    scrollbar-width: thin;
  }
  .whole {
    position: relative;
  }
  th,
  td {
    height: 22px;
    box-sizing: border-box;
    padding: 0 0 0 22px;
    text-align: right;
    white-space: nowrap;
    font-weight: 400;
  }
  th:first-child {
    padding-left: 0;
    text-align: left;
    color: var(--quiet);
  }
  thead th {
    font-style: italic;
    color: var(--quiet);
    position: sticky;
    top: 0;
    background: var(--paper);
    border-bottom: 1px solid var(--rule);
  }
  tr.here {
    background: var(--paper-raised);
    box-shadow: inset 3px 0 0 var(--margin-rule);
  }
  label {
    color: var(--quiet);
    cursor: default;
  }
  .told {
    font-size: 13px;
    font-style: italic;
    color: var(--quiet);
  }
</style>
