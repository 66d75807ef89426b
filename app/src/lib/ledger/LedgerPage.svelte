<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Input from '$lib/components/Input.svelte';
  import { firstRowFrom, instantOf, periodInstant, rfc3339 } from '@jaunty-ledger/core';
  import { onDestroy, tick, untrack } from 'svelte';
  import { replaceState } from '$app/navigation';
  import { page } from '$app/state';
  import Spinner from 'flowbite-svelte/Spinner.svelte';
  import type { KeptEntry } from '$lib/api/keptEntries';
  import { stretchInView, type Ledger, type NewLedger } from '$lib/api/ledgers';
  import type { Tape } from '$lib/api/tapes';
  import { linkBars } from '$lib/beside/linkBars.svelte';
  import { momentText, ticksInView } from '$lib/chart/calendarTicks';
  import { panned, placeOfRow, rowAtX, xOfRow, zoomed } from '$lib/chart/viewWindow';
  import { AXIS_PX } from '$lib/chart/plotSize';
  import type { PlotGestures } from '$lib/chart/plotGestures';
  import Said from '$lib/components/Said.svelte';
  import { showInView } from '$lib/components/inView.svelte';
  import EntryInput from './EntryInput.svelte';
  import ExportSheet from './ExportSheet.svelte';
  import HeadingSentence from './HeadingSentence.svelte';
  import KeyList from './KeyList.svelte';
  import Lane from './Lane.svelte';
  import LedgerList from './LedgerList.svelte';
  import { LedgerSession } from './ledgerSession.svelte';
  import { measureText } from '$lib/plots/measure';
  import WatchLine from './WatchLine.svelte';
  import RescuedChanges from './RescuedChanges.svelte';
  import RowsPanel from '$lib/plots/RowsPanel.svelte';
  import SetList from './SetList.svelte';
  import TitleLine, { type OpenSheet } from './TitleLine.svelte';
  import WorkingSlip from '$lib/plots/WorkingSlip.svelte';
  import SpanStrip from '$lib/plots/SpanStrip.svelte';

  let { ledger, tapes, kept }: { ledger: Ledger | NewLedger; tapes: Tape[]; kept: KeptEntry[] } = $props();

  // a draft that has become a ledger has the address of one
  const created = (id: number) => replaceState(`/ledger/${id}${location.search.replace(/[?&]tape=[^&]*/, '')}`, {});
  // the page is made anew for another ledger, so the session is of the one it starts with
  const session = untrack(() => new LedgerSession(ledger, tapes, kept, page.url.searchParams, created));
  onDestroy(() => session.close());
  const { document: ledgerDocument, view, results } = session;

  let isRowsOpen = $state(false);
  let widthPx = $state(0);
  let open = $state<OpenSheet>();
  let dayField = $state<HTMLInputElement>();
  const close = () => (open = undefined);

  // the other pages open on what is in view here
  $effect(() => {
    const { tape, rule } = ledgerDocument.body;
    const stretch = stretchInView(ledgerDocument.body);
    // an end in a page's address is the instant after the last bar
    const ends = stretch && { from: stretch.from, to: rfc3339(instantOf(stretch.to) + 1) };
    showInView({ tape, bars: rule, ...ends, ledger: ledgerDocument.saver.id });
  });

  // the address holds the view, so that it can be handed on
  $effect(() => {
    const stretch = stretchInView(ledgerDocument.body);
    if (session.status !== 'ready') return;
    if (ledgerDocument.saver.saving.state === 'draft') return;
    const wanted = stretch ? `?${new URLSearchParams({ ...stretch })}` : location.pathname;
    const timer = setTimeout(() => replaceState(wanted, {}), 300);
    return () => clearTimeout(timer);
  });

  const isWriting = (target: EventTarget | null) =>
    target instanceof HTMLElement && target.closest('input, textarea, select, [role="spinbutton"], dialog') !== null;

  /** Keys of the whole page; what is written into a field is not among them. */
  const PAGE_KEYS: Record<string, () => void> = {
    '?': () => (open = 'keys'),
    e: () => {
      const field = document.querySelector<HTMLElement>('.new input');
      field?.focus();
      field?.click(); // the list of what can be added opens by a press, not when the window gets the focus back
    },
    r: () => (isRowsOpen = !isRowsOpen),
    w: () => view.openWorking(undefined),
    m: () => measureFrom(),
    n: () => session.addNote(view.figureRow),
    x: () => (open = open === 'out' ? undefined : 'out'),
    h: () => (open = open === 'hand' ? undefined : 'hand'),
    l: () => (open = open === 'ledgers' ? undefined : 'ledgers'),
    d: () => {
      open = 'day';
      void tick().then(() => dayField?.focus());
    },
    Escape: () => {
      open = undefined;
      if (view.working) view.closeWorking();
      view.measure = undefined;
    },
  };

  function key(event: KeyboardEvent): void {
    if (
      (event.ctrlKey || event.metaKey) &&
      !event.altKey &&
      event.key.toLowerCase() === 'z' &&
      !isWriting(event.target)
    ) {
      event.preventDefault();
      return event.shiftKey ? session.redo() : session.undo();
    }
    if (event.ctrlKey || event.metaKey || event.altKey || isWriting(event.target) || session.status !== 'ready') return;
    const act = PAGE_KEYS[event.key];
    if (!act) return;
    event.preventDefault();
    act();
  }

  function measureFrom(): void {
    const row = inRows(view.figureRow);
    view.measure = view.measure ? undefined : { from: row, to: row };
  }

  $effect(() => {
    const { pointer } = view;
    // by keys the far end goes with the pointer; by hand the drag says it
    if (pointer !== undefined && untrack(() => view.measure)) view.measure!.to = untrack(() => inRows(pointer));
  });

  const isNumbered = $derived(view.bars !== undefined && view.precision === 'period');

  function goToDay(text: string): void {
    const at = isNumbered ? periodInstant(Number(text)) : Date.parse(`${text}T00:00:00Z`) * 1000;
    if (Number.isNaN(at)) return;
    const row = firstRowFrom(view.bars!.time, at);
    view.pointer = Math.min(view.rows - 1, row);
    view.look({ ...view.window, first: placeOfRow(view.window, row) - view.window.count / 4 });
    close();
  }

  const calendarTicks = $derived(
    view.bars && widthPx > 0
      ? ticksInView(view.window, view.times, view.days, view.calendar, widthPx, view.precision)
      : [],
  );
  const moment = $derived(
    view.pointer === undefined ? undefined : momentText(view.times[view.pointer], view.calendar, view.precision),
  );
  const momentX = $derived(view.pointer === undefined ? 0 : xOfRow(view.window, view.pointer, widthPx));

  const inRows = (row: number) => Math.min(view.rows - 1, Math.max(0, row));

  linkBars(view);

  const gestures: PlotGestures = {
    point: (share) => {
      const row = share === undefined ? -1 : rowAtX(view.window, share * (widthPx + AXIS_PX), widthPx);
      view.pointer = row >= 0 && row < view.times.length && share! * (widthPx + AXIS_PX) <= widthPx ? row : undefined;
    },
    pan: (share) =>
      view.look(panned(view.window, Number.isFinite(share) ? -share * view.window.count : -share, view.viewPlaces)),
    zoom: (factor, about) =>
      view.look(zoomed(view.window, factor, Math.min(1, (about * (widthPx + AXIS_PX)) / widthPx), view.viewPlaces)),
    fit: () => view.lookAtAll(),
    measure: (from, to) => {
      const row = (share: number) => inRows(rowAtX(view.window, share * (widthPx + AXIS_PX), widthPx));
      view.measure = from === undefined ? undefined : { from: row(from), to: row(to ?? from) };
    },
    pin: (share) => {
      const row = inRows(rowAtX(view.window, share * (widthPx + AXIS_PX), widthPx));
      view.pinned = view.pinned === row ? undefined : row;
      if (view.working) view.openWorking(view.working.entryId, row);
    },
    step: (rows) => {
      // on over bars to come that lines are drawn on
      const row = Math.max(0, Math.min(view.times.length - 1, view.figureRow + rows));
      view.pointer = row;
      view.bringIntoView(row);
    },
  };
</script>

<svelte:window onkeydown={key} onpagehide={() => ledgerDocument.saver.close()} />

<div class="page">
  <header>
    <TitleLine {session} bind:open bind:isRowsOpen />
    {#if ledgerDocument.saver.rescued}<RescuedChanges saver={ledgerDocument.saver} />{/if}
    <HeadingSentence {session} />
    {#if session.follower.isOn}<WatchLine {session} />{/if}
    {#if ledgerDocument.body.trimmed}
      <p class="trimmed">
        {session.rowsTrimmed} bars at the beginning are left out, on which not every entry has a value.
        <Button onclick={() => session.setTrimmed(false)}>show them</Button>
      </p>
    {/if}
    {#if open === 'out'}<ExportSheet
        page={{
          title: ledgerDocument.title,
          view,
          results,
          lanes: ledgerDocument.body.lanes,
          notes: ledgerDocument.body.notes,
          columns: ledgerDocument.body.columns,
        }}
        onclose={close}
      />{/if}
    {#if open === 'ledgers'}<LedgerList document={ledgerDocument} tapes={session.tapes} onclose={close} />{/if}
    {#if open === 'sets'}<SetList document={ledgerDocument} onclose={close} />{/if}
    {#if open === 'day'}
      <!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
      <form
        class="day"
        onkeydown={(event) => event.key === 'Escape' && close()}
        onsubmit={(event) => {
          event.preventDefault();
          goToDay(dayField!.value);
        }}
      >
        <label
          >{isNumbered ? 'go to period' : 'go to the day'}
          <Input type={isNumbered ? 'number' : 'date'} bind:element={dayField} /></label
        >
        <Button type="submit" look="word">go</Button>
        <Button onclick={close}>close</Button>
      </form>
    {/if}
    {#if results.progress !== undefined}
      <div
        class="progress"
        role="progressbar"
        aria-label="Working out the entries"
        aria-valuenow={Math.round(results.progress * 100)}
        style:width="{results.progress * 100}%"
      ></div>
    {/if}
  </header>
  {#if open === 'keys'}<KeyList onclose={close} />{/if}

  {#if session.status === 'failed'}
    <div class="state" role="alert">
      <h2>These bars cannot be shown.</h2>
      <p><Said text={session.problem} /></p>
      <p>
        <Button look="word" onclick={() => session.open()}>Try again</Button> or go to the
        <a href="/records">records</a>.
      </p>
    </div>
  {:else if !view.bars}
    <div class="state" role="status"><Spinner size="4" color="gray" class="mr-2 inline" />Building the bars…</div>
  {:else if view.rows === 0}
    <div class="state">
      <h2>No bars.</h2>
      <p>
        {#if ledgerDocument.body.alone}
          No bar of {ledgerDocument.body.tape} starts in the stretch that is worked with.
          <Button look="word" onclick={() => ledgerDocument.setAlone(null)}>Work with all bars</Button>
        {:else}
          No record of {ledgerDocument.body.tape} lies inside the session. Choose <em>all hours</em> in the heading to see
          those outside it.
        {/if}
      </p>
    </div>
  {:else}
    <div class="spread">
      <div class="lanes">
        {#each ledgerDocument.body.lanes as lane, index (lane.id)}
          <Lane {session} {lane} {calendarTicks} isTop={index === 0} {gestures} onresize={(px) => (widthPx = px)} />
        {/each}
        <div class="new-lane">
          <div class="new">
            <EntryInput
              label="New entry in a new lane"
              placeholder="add a formula in a new lane…"
              names={session.names}
              texts={session.texts}
              phrases={session.phrases}
              submit={(text) => session.addEntry(undefined, text)}
            />
          </div>
        </div>
        {#if view.measure}
          <div class="measured" role="status">{measureText(view)}</div>
        {/if}
        {#if moment !== undefined}
          <div class="moment" style:--at="calc(var(--margin-width) + 4px + {momentX}px)">{moment}</div>
        {/if}
      </div>
      {#if view.working}<WorkingSlip {view} {results} entries={ledgerDocument.entryTexts} lines={session.lines} />{/if}
    </div>
    {#if isRowsOpen}<RowsPanel
        {view}
        {results}
        lanes={ledgerDocument.body.lanes}
        chosen={ledgerDocument.body.columns}
        choose={(columns) => ledgerDocument.setColumns(columns)}
        onclose={() => (isRowsOpen = false)}
      />{/if}
    <SpanStrip {view} setAxis={(axis) => session.setAxis(axis)} />
  {/if}
</div>

<style>
  .page {
    --margin-width: 262px;
    height: 100dvh;
    display: flex;
    flex-direction: column;
    min-width: 0;
  }
  .trimmed {
    margin: 2px 0 0;
    font-style: italic;
    color: var(--quiet);
  }
  .day {
    display: flex;
    gap: 12px;
    align-items: baseline;
    margin-top: 4px;
    font-size: 15px;
  }
  .measured {
    position: absolute;
    z-index: 6;
    top: 24px;
    left: calc(var(--margin-width) + 16px);
    background: var(--ink);
    color: var(--paper);
    padding: 1px 10px;
    font-size: 13px;
    pointer-events: none;
  }
  header {
    position: relative;
    padding: 14px 20px 10px;
    border-bottom: 1px solid var(--rule);
  }
  .spread {
    flex: 1;
    min-height: 0;
    display: flex;
  }
  .lanes {
    position: relative;
    min-width: 0;
    flex: 1;
    min-height: 0;
    display: flex;
    flex-direction: column;
    overflow-y: auto;
  }
  .new-lane {
    flex: none;
    display: grid;
    grid-template-columns: var(--margin-width) minmax(0, 1fr);
    min-height: 26px;
  }
  .new-lane::after {
    content: '';
    border-left: 4px double var(--margin-rule);
  }
  .new-lane .new {
    padding: 3px 12px 3px 42px;
  }
  .moment {
    /* half of what the longest takes stays free on both sides */
    --half: 84px;
    position: absolute;
    bottom: 0;
    left: clamp(var(--margin-width) + var(--half), var(--at), 100% - var(--half));
    transform: translateX(-50%);
    background: var(--ink);
    color: var(--paper);
    font-size: 12.5px;
    padding: 1px 10px;
    white-space: nowrap;
    pointer-events: none;
    z-index: 5;
  }
  .state {
    padding: 48px 20px;
    max-width: 44rem;
    font-size: 16px;
  }
  .state h2 {
    font-size: 20px;
  }
  @media (max-width: 700px) {
    .page {
      --margin-width: 0px;
      height: auto;
      min-height: calc(100dvh - 44px);
    }
    header {
      padding: 10px 16px;
    }
    .spread {
      display: block;
    }
    .lanes {
      overflow: visible;
    }
    .new-lane {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
