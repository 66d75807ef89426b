<script lang="ts">
  import { parseBarRule } from '@jaunty-ledger/core';
  import { kindText } from '$lib/records/shelfModel';
  import type { LedgerSession } from './ledgerSession.svelte';
  import RuleControl from './RuleControl.svelte';
  import { withOption } from './rulePhrase';

  let { session }: { session: LedgerSession } = $props();

  const rule = $derived(parseBarRule(session.body.rule));
  const isTimed = $derived(rule.kind.by === 'interval' || rule.kind.by === 'period');
  const place = $derived(session.tape?.zone.split('/').at(-1)?.replaceAll('_', ' ') ?? '');
  const hours = $derived(session.tape?.session?.replace('-', ' to ') ?? '');
  const records = $derived(session.tape ? kindText(session.tape) : '');
</script>

<h1>
  <select
    class="word"
    aria-label="Tape"
    value={session.body.tape}
    onchange={(event) => session.setTape(event.currentTarget.value)}
  >
    {#each session.tapes as { name } (name)}<option value={name}>{name}</option>{/each}
  </select>
  {records} as
  <RuleControl {session} /> bars,
  {#if hours}
    <select
      class="word"
      aria-label="Hours"
      value={rule.allHours ? 'all' : 'session'}
      onchange={(event) =>
        session.setRule(withOption(session.body.rule, 'all hours', event.currentTarget.value === 'all'))}
    >
      <option value="session">{hours} {place} time</option>
      <option value="all">all hours, {place} time</option>
    </select>{:else}all hours, {place} time{/if}{#if isTimed}, empty bars
    <select
      class="word"
      aria-label="Empty bars"
      value={rule.empty}
      onchange={(event) => session.setRule(withOption(session.body.rule, 'empty', event.currentTarget.value))}
    >
      <option value="skip">skipped</option>
      <option value="carry">carried on</option>
      <option value="blank">left blank</option>
    </select>{/if}{#if session.tape?.flagged > 0}, {session.tape.flagged.toLocaleString('en')} flagged {session.tape
      .flagged === 1
      ? 'record'
      : 'records'}
    <select
      class="word"
      aria-label="Flagged records"
      value={session.body.flagged ? 'kept' : 'out'}
      onchange={(event) => session.setFlagged(event.currentTarget.value === 'kept')}
    >
      <option value="kept">marked and kept</option>
      <option value="out">left out</option>
    </select>{/if}.
</h1>

<style>
  h1 {
    font-size: 22px;
    font-weight: 400;
    line-height: 1.5;
    margin: 0;
  }
  select {
    appearance: none;
    cursor: pointer;
    field-sizing: content;
    text-align: left;
    background-image: none;
    padding-right: 0;
  }
  select option {
    font-size: 15px;
    font-weight: 400;
    color: var(--ink);
    background: var(--paper);
  }
  @media (max-width: 700px) {
    h1 {
      font-size: 18px;
    }
  }
</style>
