<script lang="ts">
  import { instantOf, rfc3339, type Calendar, type Precision } from '@jaunty-ledger/core';
  import type { Tape } from '$lib/api/tapes';
  import Said from '$lib/components/Said.svelte';
  import { momentFigures } from '$lib/plots/stretchText';
  import { readStretch } from '$lib/plots/stretchInput';
  import type { Examined } from './examineAddress';

  interface Props {
    examined: Examined;
    tapes: readonly Tape[];
    calendar: Calendar | undefined;
    precision: Precision;
    change: (what: Partial<Examined>) => void;
  }
  let { examined, tapes, calendar, precision, change }: Props = $props();

  let problem = $state('');
  let isAdding = $state(false);

  const endText = (at: string, isEnd: boolean) =>
    at && calendar ? momentFigures(instantOf(at) - (isEnd ? 1 : 0), calendar, precision) : '';
  const ends = $derived({ from: endText(examined.from, false), to: endText(examined.to, true) });

  function type(what: Partial<typeof ends>): void {
    const { from, to } = { ...ends, ...what };
    const stretch = readStretch(from, to, calendar!);
    problem = typeof stretch === 'string' ? stretch : '';
    if (typeof stretch === 'string') return;
    const text = (at: number) => (Number.isFinite(at) ? rfc3339(at) : '');
    change({ from: text(stretch.from), to: text(stretch.to) });
  }

  const CHOICES = ['log', 'change', 'change 5', 'detrended', 'less season 12'];

  function add(text: string): void {
    isAdding = false;
    if (text.trim()) change({ treatments: [...examined.treatments, text.trim()] });
  }
</script>

<h1>
  <input
    class="word formula"
    aria-label="What is examined"
    value={examined.entry}
    onchange={(event) => change({ entry: event.currentTarget.value.trim() || 'close' })}
  />
  of
  <select
    class="word"
    aria-label="Tape"
    value={examined.tape}
    onchange={(event) => change({ tape: event.currentTarget.value })}
  >
    {#each tapes as { name } (name)}<option value={name}>{name}</option>{/each}
  </select>
  in bars of
  <input
    class="word"
    aria-label="Bar rule"
    value={examined.bars}
    onchange={(event) => change({ bars: event.currentTarget.value.trim() })}
  />, from
  <input
    class="word"
    aria-label="First bar"
    placeholder="the first"
    value={ends.from}
    onchange={(event) => type({ from: event.currentTarget.value })}
  />
  to
  <input
    class="word"
    aria-label="Last bar"
    placeholder="the last"
    value={ends.to}
    onchange={(event) => type({ to: event.currentTarget.value })}
  />, taken
  {#if examined.treatments.length === 0}as it stands{:else}as
    {#each examined.treatments as treatment, at (at)}{at > 0 ? ', then ' : ''}<button
        type="button"
        class="word"
        title="Leave it out"
        aria-label="Leave {treatment} out"
        onclick={() => change({ treatments: examined.treatments.filter((_, other) => other !== at) })}
        >{treatment}</button
      >{/each}{/if};
  {#if isAdding}
    <input
      class="word"
      list="treatments"
      aria-label="Treatment to add"
      placeholder="change 5"
      onchange={(event) => add(event.currentTarget.value)}
    />
    <datalist id="treatments"
      >{#each CHOICES as text (text)}<option value={text}></option>{/each}</datalist
    >
  {:else}
    <button type="button" class="word" onclick={() => change({ treatments: [...examined.treatments, 'change'] })}
      >take its change</button
    >
    or <button type="button" class="word" onclick={() => (isAdding = true)}>treat it otherwise</button>
  {/if}; beside it
  <select
    class="word"
    aria-label="Tape beside it"
    value={examined.beside}
    onchange={(event) => change({ beside: event.currentTarget.value })}
  >
    <option value="">nothing</option>
    {#each tapes as { name } (name)}{#if name !== examined.tape}<option value={name}>{name}</option>{/if}{/each}
  </select>.
</h1>
{#if problem}<p class="problem" role="alert"><Said text={problem} /></p>{/if}

<style>
  input {
    field-sizing: content;
    min-width: 3ch;
    max-width: 100%;
  }
  .formula {
    font-family: var(--mono);
    font-size: 0.85em;
  }
  .problem {
    margin: 2px 0 0;
    color: var(--wrong);
  }
</style>
