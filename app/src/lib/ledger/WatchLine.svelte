<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Input from '$lib/components/Input.svelte';
  import Said from '$lib/components/Said.svelte';
  import type { LedgerSession } from './ledgerSession.svelte';

  interface Props {
    session: LedgerSession;
  }
  let { session }: Props = $props();
  const { document: ledgerDocument, watch } = $derived(session);
  let written = $state('');
  let isOpen = $state(false);

  const clock = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit', second: '2-digit' });
  const events = $derived(ledgerDocument.body.events);
  const shown = $derived(isOpen ? events : events.slice(0, 1));
</script>

<div class="watch">
  <form
    onsubmit={(event) => {
      event.preventDefault();
      watch.add(written.trim());
      written = '';
    }}
  >
    <label
      >alert when&nbsp; <Input
        class="w-[15em]! px-0.5 font-mono text-[13px]"
        bind:value={written}
        placeholder="close > 100"
        aria-label="Alert when"
      /></label
    >
    <Button type="submit">add</Button>
  </form>
  {#each ledgerDocument.body.watched as formula, at (at)}
    {@const problem = watch.problemOf(at)}
    <span class:wrong={problem !== undefined}>
      <code>{formula}</code>
      {#if problem !== undefined}<Said text={problem} />{/if}
      <Button aria-label="Remove the alert {formula}" onclick={() => watch.remove(formula)}>remove</Button>
    </span>
  {/each}
  {#if events.length > 0}
    <ol aria-label="Events" role="log">
      {#each shown as event, at (at)}
        <li>{clock.format(new Date(event.at))} <code>{event.says}</code> became true</li>
      {/each}
    </ol>
    {#if events.length > 1}
      <Button aria-expanded={isOpen} onclick={() => (isOpen = !isOpen)}
        >{isOpen ? 'the last one only' : `all ${events.length}`}</Button
      >
    {/if}
    <Button onclick={() => ledgerDocument.forgetEvents()}>clear</Button>
  {/if}
</div>

<style>
  .watch {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 16px;
    align-items: baseline;
    margin-top: 4px;
    font-size: 14px;
  }
  form {
    display: flex;
    gap: 8px;
    align-items: baseline;
  }
  ol {
    margin: 0;
    padding: 0;
    list-style: none;
    max-height: 6.5em;
    overflow-y: auto;
    font-variant-numeric: tabular-nums;
  }
  .wrong {
    color: var(--wrong);
  }
</style>
