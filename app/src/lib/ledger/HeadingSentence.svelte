<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Select from '$lib/components/Select.svelte';
  import { isTimed, parseBarRule, type BarRule } from '@jaunty-ledger/core';
  import { kindText } from '$lib/records/shelfModel';
  import Said from '$lib/components/Said.svelte';
  import type { LedgerSession } from './ledgerSession.svelte';
  import RuleControl from './RuleControl.svelte';
  import { withParts } from './rulePhrase';
  import StretchControl from './StretchControl.svelte';

  let { session }: { session: LedgerSession } = $props();

  let problem = $state('');

  const { document } = $derived(session);
  const tape = $derived(session.view.tape);

  const rule = $derived(parseBarRule(document.body.rule));
  const change = (parts: Partial<BarRule>) => session.setRule(withParts(document.body.rule, parts));
  const knowsSides = $derived(tape?.columns.includes('side') ?? false);
  /** The column of adjusted closes, if there is one. */
  const adjusting = $derived(
    rule.adjusted ??
      (tape?.kind === 'quotes' ? undefined : tape?.numbers.find(({ name }) => /^adj|_adj/i.test(name))?.name),
  );
  const isUndated = $derived(tape?.precision === 'period');
  const byTime = $derived(isTimed(rule.kind));
  /** Records that no bar of the session holds. */
  const hidden = $derived(tape?.outside ?? 0);
  /** Flagged records that bars may hold. */
  const flagged = $derived(tape ? Math.max(0, tape.flagged - (rule.allHours ? 0 : hidden)) : 0);
  const place = $derived(tape?.zone.split('/').at(-1)?.replaceAll('_', ' ') ?? '');
  const hours = $derived(tape?.session?.replace('-', ' to ') ?? '');
  const records = $derived(tape?.kind === 'series' ? 'values' : tape ? kindText(tape) : '');
</script>

<h1>
  <Select
    look="word"
    aria-label="Tape"
    value={document.body.tape}
    onchange={(event) => session.setTape(event.currentTarget.value)}
  >
    {#each session.tapes as { name } (name)}<option value={name}>{name}</option>{/each}
  </Select>
  {records} as
  <RuleControl
    rule={document.body.rule}
    columns={tape?.numbers.map(({ name }) => name).filter((name) => name !== rule.adjusted) ?? []}
    undated={isUndated}
    setRule={(text) => session.setRule(text)}
  /> bars{#if !isUndated}, {#if hours}<Select
        look="word"
        aria-label="Hours"
        value={rule.allHours ? 'all' : 'session'}
        onchange={(event) => change({ allHours: event.currentTarget.value === 'all' })}
      >
        <option value="session">{hours} {place} time</option>
        <option value="all">all hours, {place} time</option>
      </Select>{:else}all hours, {place} time{/if}{#if byTime}, empty bars
      <Select
        look="word"
        aria-label="Empty bars"
        value={rule.empty}
        onchange={(event) => change({ empty: event.currentTarget.value as BarRule['empty'] })}
      >
        <option value="skip">skipped</option>
        <option value="carry">carried on</option>
        <option value="blank">left blank</option>
      </Select>{:else}, running
      <Select
        look="word"
        aria-label="Across days"
        value={rule.restart}
        onchange={(event) => change({ restart: event.currentTarget.value as BarRule['restart'] })}
      >
        <option value="never">across nights</option>
        <option value="day">from each day anew</option>
      </Select>{/if}{/if}{#if knowsSides}, of
    <Select
      look="word"
      aria-label="Sides"
      value={rule.side ?? 'both'}
      onchange={(event) => {
        const { value } = event.currentTarget;
        change({ side: value === 'both' ? undefined : (value as 'buy' | 'sell') });
      }}
    >
      <option value="both">both sides</option>
      <option value="buy">buys alone</option>
      <option value="sell">sells alone</option>
    </Select>{/if}{#if tape?.kind === 'quotes'}, at
    <Select
      look="word"
      aria-label="Price of a quote"
      value={rule.price}
      onchange={(event) => change({ price: event.currentTarget.value as BarRule['price'] })}
    >
      <option value="mid">the mid</option>
      <option value="bid">the bid</option>
      <option value="ask">the ask</option>
    </Select>{/if}{#if tape?.kind === 'series'}, each
    <Select
      look="word"
      aria-label="Values of a bar"
      value={rule.take}
      onchange={(event) => change({ take: event.currentTarget.value as BarRule['take'] })}
    >
      <option value="last">the last of its values</option>
      <option value="first">the first of its values</option>
      <option value="sum">the sum of its values</option>
      <option value="mean">the mean of its values</option>
    </Select>{/if}{#if adjusting}, prices
    <Select
      look="word"
      aria-label="Prices"
      value={rule.adjusted ?? ''}
      onchange={(event) => change({ adjusted: event.currentTarget.value || undefined })}
    >
      <option value="">as traded</option>
      <option value={adjusting}>adjusted by {adjusting}</option>
    </Select>{/if}{#if flagged > 0}, {flagged.toLocaleString('en')} flagged {flagged === 1 ? 'record' : 'records'}
    <Select
      look="word"
      aria-label="Flagged records"
      value={document.body.flagged ? 'kept' : 'out'}
      onchange={(event) => document.setFlagged(event.currentTarget.value === 'kept')}
    >
      <option value="kept">marked and kept</option>
      <option value="out">left out</option>
    </Select>{/if}{#if hidden > 0 && !rule.allHours}; {hidden.toLocaleString('en')}
    {hidden === 1 ? 'record' : 'records'} outside the session {hidden === 1 ? 'is' : 'are'} in no bar:
    <Button look="word" onclick={() => change({ allHours: true })}>show them</Button>{/if}<StretchControl
    {session}
    bind:problem
  />
</h1>
{#if problem}<p class="problem" role="alert"><Said text={problem} /></p>{/if}

<style>
  h1 {
    font-size: 22px;
    font-weight: 400;
    line-height: 1.5;
    margin: 0;
  }
  .problem {
    margin: 2px 0 0;
    color: var(--wrong);
  }
  @media (max-width: 700px) {
    h1 {
      font-size: 18px;
    }
  }
</style>
