<script module lang="ts">
  /** What is open below the heading, or over the page. */
  export type OpenSheet = 'keys' | 'out' | 'ledgers' | 'sets' | 'day' | 'hand' | undefined;
</script>

<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import { rfc3339 } from '@jaunty-ledger/core';
  import { page } from '$app/state';
  import Sharing from '$lib/access/Sharing.svelte';
  import { rowsInView } from '$lib/chart/viewWindow';
  import { chartOfLedger, draftOf, settingOfLedger, tableOf, type HandedOver } from '$lib/handover/blocks';
  import TextField from '$lib/components/TextField.svelte';
  import HandOver from '$lib/handover/HandOver.svelte';
  import type { LedgerSession } from './ledgerSession.svelte';

  interface Props {
    session: LedgerSession;
    open: OpenSheet;
    isRowsOpen: boolean;
  }
  let { session, open = $bindable(), isRowsOpen = $bindable() }: Props = $props();
  // svelte-ignore state_referenced_locally
  const { document: ledgerDocument, view, follower } = session;

  /** What the ledger shows, to hand over. */
  const handedOver: HandedOver[] = [
    { says: 'a paragraph, drafted', make: async (sources) => [await draftOf(shown(), sources)] },
    {
      says: 'the chart',
      make: async (sources) => [await chartOfLedger(ledgerDocument.title, ledgerDocument.body, sources, shown())],
    },
    { says: 'a table: latest values', make: async (sources) => [await tableOf(shown(), 'standing', sources)] },
  ];
  /** The bars in view; open behind the last one, so that bars that come later are there with them. */
  function shown() {
    const { time } = view.bars!;
    const [from, to] = rowsInView(view.window, view.rows);
    const range = { from: from === 0 ? '' : rfc3339(time[from]), to: to < time.length ? rfc3339(time[to]) : '' };
    return settingOfLedger(ledgerDocument.body, range);
  }

  const keptId = $derived(ledgerDocument.saver.id);

  const followText = $derived.by(() => {
    if (!follower.isHeard) return 'no connection to the server; retrying';
    const count = (follower.records ?? view.tape.rows).toLocaleString('en');
    return `following, ${count} records`;
  });

  const clock = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });
  const savedText = $derived.by(() => {
    switch (ledgerDocument.saver.saving.state) {
      case 'draft':
        return 'first look: saved with the first change';
      case 'saved':
        return `saved ${clock.format(new Date(ledgerDocument.saver.saving.at))}`;
      case 'waiting':
        return 'saving…';
      case 'failed':
        return `not saved: ${ledgerDocument.saver.saving.message}`;
    }
  });
</script>

<div class="title">
  <strong>Jaunty Ledger</strong>
  <TextField
    value={ledgerDocument.title}
    aria-label="Title of the ledger"
    change={(text) => ledgerDocument.setTitle(text)}
  />
  <span class="saving" role="status" class:failed={ledgerDocument.saver.saving.state === 'failed'}>{savedText}</span>
  {#if follower.problem}
    <span class="saving failed" role="alert">{follower.problem}</span>
  {:else if follower.isOn}
    <span class="saving">{followText}</span>
  {/if}
  {#if page.data.visitor && keptId !== undefined}<Sharing
      path="/api/ledgers/{keptId}/sharing"
      of="this ledger"
      choices={['change', 'read', 'nothing']}
    />{/if}
  <div class="acts" role="toolbar" aria-label="The ledger">
    <Button disabled={!ledgerDocument.canUndo} onclick={() => session.undo()}>undo</Button>
    <Button disabled={!ledgerDocument.canRedo} onclick={() => session.redo()}>redo</Button>
    {#each [['sets', 'sets'], ['out', 'export'], ['ledgers', 'ledgers']] as const as [name, says] (name)}
      <Button aria-expanded={open === name} onclick={() => (open = open === name ? undefined : name)}>{says}</Button>
    {/each}
    <HandOver
      title={ledgerDocument.title}
      choices={handedOver}
      bind:open={() => open === 'hand', (isOpen) => (open = isOpen ? 'hand' : undefined)}
    />
    {#if follower.canBeFollowed}<Button
        disabled={!follower.canFollow}
        aria-pressed={follower.isOn}
        title="Keeps the newest bar in view while data arrives"
        onclick={() => (follower.isOn ? follower.stop() : follower.start())}>follow</Button
      >{/if}
    <Button aria-pressed={isRowsOpen} onclick={() => (isRowsOpen = !isRowsOpen)}>rows</Button>
    <Button onclick={() => view.openWorking(undefined)}>working</Button>
    <Button aria-label="Keys" onclick={() => (open = 'keys')}>keys</Button>
  </div>
</div>

<style>
  .title {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 12px;
    align-items: baseline;
    font-size: 16px;
    margin-bottom: 4px;
  }
  .title > :global(input) {
    flex: 1;
    min-width: 120px;
    font: inherit;
    font-style: italic;
    color: var(--quiet);
    background: none;
    border: 0;
    padding: 0;
    text-overflow: ellipsis;
  }
  .title > :global(input:focus) {
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
  .acts {
    display: flex;
    gap: 2px 12px;
    align-items: baseline;
    flex-wrap: wrap;
  }
</style>
