<script lang="ts">
  import Input from '$lib/components/Input.svelte';
  import Select from '$lib/components/Select.svelte';
  import { rfc3339 } from '@jaunty-ledger/core';
  import { rowsInView } from '$lib/chart/viewWindow';
  import { paced } from '$lib/components/paced.svelte';
  import type { LedgerSession } from './ledgerSession.svelte';
  import { momentFigures } from '$lib/plots/stretchText';
  import { readStretch } from '$lib/plots/stretchInput';

  interface Props {
    session: LedgerSession;
    /** What is wrong with an end that was typed. */
    problem: string;
  }
  let { session, problem = $bindable() }: Props = $props();

  const { document, view } = $derived(session);

  const shown = paced(() => {
    const { bars, rows, calendar } = view;
    const [first, end] = rowsInView(view.window, rows);
    if (!bars || end <= first) return undefined;
    const { precision } = view;
    const text = (row: number) => momentFigures(bars.time[row], calendar, precision);
    const times = { from: bars.time[first], to: end < rows ? bars.time[end] : Infinity };
    return { from: text(first), to: text(end - 1), first, end, times };
  });

  const alone = $derived(document.alone);
  const aloneText = $derived.by(() => {
    if (!alone) return '';
    const text = (at: number) => momentFigures(at, view.calendar, view.precision);
    if (alone.to === Infinity) return `only the bars from ${text(alone.from)} on`;
    return alone.from === -Infinity
      ? `only the bars before ${text(alone.to)}`
      : `only the bars from ${text(alone.from)} to ${text(alone.to - 1)}`;
  });

  /** An end that was typed; the other one stays, which its text need not say to the second. */
  function type(ends: { from?: string; to?: string }): void {
    const { times, ...texts } = shown.latest!;
    const { from, to } = { ...texts, ...ends };
    const typed = readStretch(from, to, view.calendar);
    if (typeof typed === 'string') return void (problem = typed);
    const stretch = {
      from: ends.from === undefined ? times.from : typed.from,
      to: ends.to === undefined ? times.to : typed.to,
    };
    problem = view.lookAt(stretch) ? '' : `no bar starts between \`${from}\` and \`${to}\``;
  }

  /** The bars in view are all that is worked with; an end that is that of the tape stays open. */
  function workAlone(): void {
    const { time } = view.bars!;
    const { first, end } = shown.latest!;
    const from = first === 0 ? (document.body.alone?.from ?? null) : rfc3339(time[first]);
    const to = end === view.rows ? (document.body.alone?.to ?? null) : rfc3339(time[end]);
    document.setAlone(from === null && to === null ? null : { from, to });
  }

  function choose(list: HTMLSelectElement): void {
    if (list.value === 'all') document.setAlone(null);
    if (list.value === 'shown') workAlone();
  }
</script>

{#if shown.latest}; shown from
  <Input
    look="word"
    aria-label="First bar shown"
    value={shown.latest.from}
    onchange={(event) => type({ from: event.currentTarget.value })}
  />
  to
  <Input
    look="word"
    aria-label="Last bar shown"
    value={shown.latest.to}
    onchange={(event) => type({ to: event.currentTarget.value })}
  />, computed on
  <Select
    look="word"
    aria-label="Bars that are worked with"
    current={() => (alone ? 'alone' : 'all')}
    onchange={(event) => choose(event.currentTarget)}
  >
    <option value="all">all bars</option>
    {#if alone}<option value="alone">{aloneText}</option>{/if}
    <option value="shown">only the bars shown</option>
  </Select>.{:else}.{#if session.status === 'loading'}<span class="to-come" aria-hidden="true"
      >; shown from 2026-01-02 09:30 to 2026-01-30 16:00, computed on all bars</span
    >{/if}{/if}

<style>
  /* holds the place of what is said once the bars are there, so that nothing below moves */
  .to-come {
    visibility: hidden;
  }
</style>
