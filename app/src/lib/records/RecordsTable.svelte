<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import Button from '$lib/components/Button.svelte';
  import Input from '$lib/components/Input.svelte';
  import { untrack } from 'svelte';
  import { instantOf, makeCalendar, periodInstant, rfc3339, toldText } from '@jaunty-ledger/core';
  import { checksIn, wordsOf } from '@jaunty-ledger/files/checks/checks';
  import { fetchRecords, type RecordPage } from '$lib/api/client';
  import { evenPlaces } from './evenPlaces';
  import { reasonOf } from '$lib/api/problems';
  import { calendarOptions, type Tape } from '$lib/api/tapes';
  import Said from '$lib/components/Said.svelte';

  let { tape }: { tape: Tape } = $props();

  const ROW_PX = 22;
  const VIEW_ROWS = 16;
  /** Rows that are asked for at once, and kept. */
  const PAGE_ROWS = 200;
  /** A browser lays out no taller element; more rows than fit are reached by scrolling in larger steps. */
  const MOST_PX = 8_000_000;

  let scrollPx = $state(0);
  let box: HTMLElement;
  /** Texts of some rows, by column, and their flags. */
  interface Page {
    texts: Record<string, string[]>;
    flags: number[];
  }
  let pages = $state.raw<ReadonlyMap<number, Page>>(new Map());
  let wanted = $state('');
  let problem = $state('');
  /** The flagged record that was gone to last. */
  let flaggedRow = -1;
  let underWay = new Set<number>();
  /** Told to whoever asks for pages of an earlier version of the tape. */
  let outdated = new AbortController();

  const tallPx = $derived(Math.min(MOST_PX, tape.rows * ROW_PX));
  const perPx = $derived(Math.max(1, tape.rows - VIEW_ROWS) / Math.max(1, tallPx - VIEW_ROWS * ROW_PX));
  const firstRow = $derived(Math.min(Math.max(0, tape.rows - VIEW_ROWS), Math.floor(scrollPx * perPx)));
  const rows = $derived(Array.from({ length: Math.min(VIEW_ROWS, tape.rows) }, (_, index) => firstRow + index));
  const names = $derived(tape.columns.filter((name) => name !== 'flags'));
  /** Single values are called as their file calls them. */
  const valueText = $derived(tape.kind === 'series' ? (tape.valueName ?? 'value') : 'price');
  const titleOf = (name: string) => (name === 'time' ? heading : name === 'price' ? valueText : name);

  $effect.pre(() => {
    void tape.name;
    void tape.version;
    untrack(() => {
      outdated.abort();
      outdated = new AbortController();
      underWay = new Set();
      pages = new Map();
    });
  });

  $effect(() => {
    void tape.version;
    const from = Math.floor(firstRow / PAGE_ROWS);
    const to = Math.floor((firstRow + VIEW_ROWS) / PAGE_ROWS);
    untrack(() => {
      for (let page = from; page <= to; page++) void load(page);
    });
  });

  async function load(page: number): Promise<void> {
    if (pages.has(page) || underWay.has(page)) return;
    underWay.add(page);
    const { signal } = outdated;
    const asked = underWay;
    try {
      const query = { offset: String(page * PAGE_ROWS), limit: String(PAGE_ROWS) };
      const found = await fetchRecords((input, init) => fetch(input, { ...init, signal }), tape.name, query);
      if (!signal.aborted) pages = new Map([...[...pages].slice(-20), [page, pageOf(found)]]);
    } catch (error) {
      if (!signal.aborted) problem = reasonOf(error);
    } finally {
      asked.delete(page);
    }
  }

  /** Moves so far: the answer to an earlier one does not undo a later one. */
  let moves = 0;

  function show(row: number): void {
    box.scrollTop = row / perPx;
    scrollPx = box.scrollTop; // the event of scrolling comes a frame later, and the next press may come before
  }

  function jump(row: number): void {
    moves++;
    show(row);
  }

  async function goTo(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    problem = '';
    const move = ++moves;
    try {
      const { offset } = await fetchRecords(fetch, tape.name, {
        from: instantText(wanted.trim()),
        limit: '1',
      });
      if (move === moves) show(offset);
    } catch (error) {
      problem = reasonOf(error);
    }
  }

  /** Presses that come faster than answers go on one after the other. */
  let goingToFlagged = Promise.resolve();

  /** The next flagged record, from the top again after the last one. */
  async function goToFlagged(): Promise<void> {
    problem = '';
    const move = ++moves;
    const isInView = flaggedRow >= firstRow && flaggedRow < firstRow + VIEW_ROWS;
    try {
      const next = (row: number) =>
        fetchRecords(fetch, tape.name, { flagged: 'only', offset: String(row), limit: '1' });
      let found = await next(isInView ? flaggedRow + 1 : firstRow);
      if (found.columns.time.length === 0) found = await next(0);
      if (found.columns.time.length === 0) return void (problem = 'No record is flagged any more.');
      flaggedRow = found.offset;
      if (move === moves) show(Math.max(0, flaggedRow - 2)); // with what stands before it
    } catch (error) {
      problem = reasonOf(error);
    }
  }

  const heading = $derived(tape.precision === 'moment' ? 'time' : tape.precision === 'period' ? 'period' : 'date');
  const example = $derived(
    {
      moment: '2026-03-02T10:00Z',
      day: '2026-03-02',
      month: '2026-03',
      quarter: '2026-04',
      year: '2026',
      period: '12',
    }[tape.precision],
  );

  /** A place that is typed as an instant: a period's number, or as much of a date as is told. */
  function instantText(text: string): string {
    if (tape.precision === 'period' && Number.isInteger(Number(text))) return rfc3339(periodInstant(Number(text)));
    return text.length <= 10 ? `${text}${'-01-01'.slice(text.length - 4)}T00:00:00Z` : text;
  }

  const PRICES = new Set(['price', 'open', 'high', 'low', 'close', 'bid', 'ask']);

  /** Days and months are shown as such, by the calendar of the market. */
  const zone = $derived(makeCalendar(calendarOptions(tape)).zone);
  const timeText = (told: string): string =>
    tape.precision === 'moment' ? told : toldText(zone.wallAt(instantOf(told)), tape.precision);

  function pageOf({ columns: { flags, ...columns } }: RecordPage): Page {
    const texts = Object.entries(columns).map(([name, values]) => {
      const textOf = (value: (typeof values)[number]) =>
        value === null
          ? '–'
          : name === 'time'
            ? timeText(String(value))
            : PRICES.has(name)
              ? Number(value).toFixed(tape.priceDecimals)
              : String(value);
      return [name, evenPlaces(values.map(textOf))] as const;
    });
    return { texts: Object.fromEntries(texts), flags: flags.map(Number) };
  }

  const pageAt = (row: number) => pages.get(Math.floor(row / PAGE_ROWS));

  const cell = (name: string, row: number): string => pageAt(row)?.texts[name][row % PAGE_ROWS] ?? '…';

  function flagsOf(row: number): string {
    const flags = pageAt(row)?.flags[row % PAGE_ROWS] ?? 0;
    return checksIn(flags)
      .map((rule) => wordsOf(rule, 1))
      .join('; ');
  }
</script>

<section aria-label="Records">
  <div class="head">
    <h2>Records</h2>
    <Button onclick={() => jump(0)}>first</Button>
    <Button onclick={() => jump(tape.rows)}>last</Button>
    <form onsubmit={goTo}>
      <Input
        class="w-50! text-[14px]"
        bind:value={wanted}
        placeholder="go to {example}"
        aria-label="Go to a {heading}"
      />
      <Button type="submit">go</Button>
    </form>
    {#if tape.flagged > 0}<Button onclick={() => (goingToFlagged = goingToFlagged.then(goToFlagged))}
        >next flagged</Button
      >{/if}
    <span class="where">row {(firstRow + 1).toLocaleString('en')} of {tape.rows.toLocaleString('en')}</span>
  </div>
  {#if problem}<p class="problem" role="alert"><Said text={problem} /></p>{/if}
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <div
    class="scroll"
    role="region"
    aria-label="Table of records"
    tabindex="0"
    bind:this={box}
    onscroll={() => (scrollPx = box.scrollTop)}
    style:height="{(VIEW_ROWS + 1) * ROW_PX + 4}px"
  >
    <div style:height="{tallPx + 2 * ROW_PX}px">
      <Table look="figures" class="sticky" style="top: {0}px">
        <thead>
          <tr>
            {#each names as name (name)}<th scope="col" class:left={name === 'time'}>{titleOf(name)}</th>{/each}
            <th scope="col" class="left">flags</th>
          </tr>
        </thead>
        <tbody>
          {#each rows as row, index (index)}
            {@const flags = flagsOf(row)}
            <tr class:flagged={flags !== ''}>
              {#each names as name (name)}<td class:left={name === 'time'}>{cell(name, row)}</td>{/each}
              <td class="left flags">{flags}</td>
            </tr>
          {/each}
        </tbody>
      </Table>
    </div>
  </div>
</section>

<style>
  section {
    padding: 10px 20px 0;
  }
  .head {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 4px 12px;
    margin-bottom: 4px;
  }
  h2 {
    font-size: 14px;
    font-weight: 400;
    font-style: italic;
    color: var(--quiet);
  }
  .where {
    margin-left: auto;
    font-size: 13px;
    color: var(--quiet);
  }
  .problem {
    color: var(--wrong);
  }
  .scroll {
    overflow: auto;
    border-top: 1px solid var(--rule);
    border-bottom: 1px solid var(--rule);
  }
  tr {
    height: 22px;
  }
  th,
  td {
    text-align: right;
    padding: 0 20px 0 0;
    font-weight: 400;
    white-space: nowrap;
  }
  .left {
    text-align: left;
  }
  .flagged td {
    color: var(--wrong);
  }
  .flags {
    font-style: italic;
    font-size: 12.5px;
  }
</style>
