<script lang="ts">
  import { onDestroy, untrack } from 'svelte';
  import Spinner from 'flowbite-svelte/Spinner.svelte';
  import type { Ledger } from '$lib/api/ledgers';
  import type { Tape } from '$lib/api/tapes';
  import { momentText, turnsInView } from '$lib/chart/turns';
  import { panned, rowAtX, xOfRow, zoomed } from '$lib/chart/viewWindow';
  import type { PlotGestures } from '$lib/chart/plotGestures';
  import Said from '$lib/components/Said.svelte';
  import HeadingSentence from './HeadingSentence.svelte';
  import Lane from './Lane.svelte';
  import { LedgerSession } from './ledgerSession.svelte';
  import SpanStrip from './SpanStrip.svelte';

  let { ledger, tapes }: { ledger: Ledger; tapes: Tape[] } = $props();

  // the page is made anew for another ledger, so the session is of the one it starts with
  const session = untrack(() => new LedgerSession(ledger, tapes));
  onDestroy(() => session.close());

  let widthPx = $state(0);

  const turns = $derived(
    session.bars && widthPx > 0
      ? turnsInView(session.view, session.bars.time, session.days, session.calendar, widthPx)
      : [],
  );
  const clock = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });
  const savedText = $derived.by(() => {
    switch (session.saving.state) {
      case 'saved':
        return `saved ${clock.format(new Date(session.saving.at))}`;
      case 'waiting':
        return 'saving…';
      case 'failed':
        return `not saved: ${session.saving.message}`;
    }
  });
  const moment = $derived(
    session.pointer === undefined
      ? undefined
      : momentText(
          session.bars!.time[session.pointer],
          session.calendar,
          !/day|week|month|quarter|year/.test(session.body.rule),
        ),
  );
  const momentX = $derived(session.pointer === undefined ? 0 : xOfRow(session.view, session.pointer, widthPx));

  const inRows = (row: number) => Math.min(session.rows - 1, Math.max(0, row));

  const gestures: PlotGestures = {
    point: (share) => {
      const row = share === undefined ? -1 : rowAtX(session.view, share * (widthPx + 58), widthPx);
      session.pointer = row >= 0 && row < session.rows && share! * (widthPx + 58) <= widthPx ? row : undefined;
    },
    pan: (share) =>
      session.look(panned(session.view, Number.isFinite(share) ? -share * session.view.count : -share, session.rows)),
    zoom: (factor, about) =>
      session.look(zoomed(session.view, factor, Math.min(1, (about * (widthPx + 58)) / widthPx), session.rows)),
    fit: () => session.lookAtAll(),
    step: (rows) => {
      const row = inRows(session.figureRow + rows);
      session.pointer = row;
      const { first, count } = session.view;
      if (row < first) session.look({ first: row, count });
      if (row + 1 > first + count) session.look({ first: row + 1 - count, count });
    },
  };
</script>

<div class="page">
  <header>
    <div class="title">
      <strong>Jaunty Ledger</strong>
      <input
        value={session.title}
        aria-label="Title of the ledger"
        onchange={(event) => session.setTitle(event.currentTarget.value)}
      />
      <span class="saving" role="status" class:failed={session.saving.state === 'failed'}>{savedText}</span>
    </div>
    <HeadingSentence {session} />
  </header>

  {#if session.status === 'failed'}
    <div class="state" role="alert">
      <h2>These bars cannot be shown.</h2>
      <p><Said text={session.problem} /></p>
      <p>
        <button type="button" class="word" onclick={() => session.open()}>Try again</button> or go to the
        <a href="/records">records</a>.
      </p>
    </div>
  {:else if !session.bars}
    <div class="state" role="status"><Spinner size="4" color="gray" class="mr-2 inline" />Cutting the bars…</div>
  {:else if session.rows === 0}
    <div class="state">
      <h2>No bars.</h2>
      <p>
        No record of {session.body.tape} lies inside the session. Choose <em>all hours</em> in the heading to see those outside
        it.
      </p>
    </div>
  {:else}
    <div class="lanes">
      {#each session.body.lanes as lane, index (lane.id)}
        <Lane {session} {lane} {turns} isTop={index === 0} {gestures} onresize={(px) => (widthPx = px)} />
      {/each}
      {#if moment !== undefined}
        <div class="moment" style:left="calc(var(--margin-width) + 4px + {momentX}px)">{moment}</div>
      {/if}
    </div>
    <SpanStrip {session} />
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
  header {
    padding: 14px 20px 10px;
    border-bottom: 1px solid var(--rule);
  }
  .title {
    display: flex;
    gap: 8px;
    align-items: baseline;
    font-size: 16px;
    margin-bottom: 4px;
  }
  .title input {
    flex: 1;
    min-width: 0;
    font: inherit;
    font-style: italic;
    color: var(--quiet);
    background: none;
    border: 0;
    padding: 0;
    text-overflow: ellipsis;
  }
  .title input:focus {
    box-shadow: none;
    outline: 0;
    border-bottom: 1px solid var(--blue);
  }
  .saving {
    font-size: 13px;
    color: var(--quiet);
    white-space: nowrap;
  }
  .saving.failed {
    color: var(--wrong);
    white-space: normal;
  }
  .lanes {
    position: relative;
    flex: 1;
    min-height: 0;
    display: flex;
    flex-direction: column;
    overflow-y: auto;
  }
  .moment {
    position: absolute;
    bottom: 0;
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
    .lanes {
      overflow: visible;
    }
  }
</style>
