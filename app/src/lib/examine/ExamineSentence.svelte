<script lang="ts">
  import type { Calendar } from '@jaunty-ledger/core';
  import type { Tape } from '$lib/api/tapes';
  import Said from '$lib/components/Said.svelte';
  import FormulaText from '$lib/components/FormulaText.svelte';
  import ScrubNumber from '$lib/components/ScrubNumber.svelte';
  import { formulaParts, scrubbed } from '$lib/components/scrub';
  import { barsOnTape } from '$lib/api/naturalBars';
  import StretchFields from '$lib/pages/StretchFields.svelte';
  import TapeAndRule from '$lib/pages/TapeAndRule.svelte';
  import type { Examined } from './examineAddress';

  interface Props {
    examined: Examined;
    tapes: readonly Tape[];
    calendar: Calendar | undefined;
    change: (what: Partial<Examined>, group?: string) => void;
  }
  let { examined, tapes, calendar, change }: Props = $props();

  let problem = $state('');
  let isAdding = $state(false);
  /** Whether the formula is written, rather than its numbers turned. */
  let isWriting = $state(false);
  const hasNumbers = $derived(formulaParts(examined.entry).some(({ kind }) => kind === 'number'));

  const write = (entry: string) => {
    isWriting = false;
    change({ entry: entry.trim() || 'close' });
  };

  /** A treatment in words, around the rows that it goes over. */
  function wordsOf(treatment: string): { before: string; rows?: number; after: string } {
    const [, kind, rows] = /^(change|less season)\s*(\d*)$/.exec(treatment) ?? [];
    if (kind === 'change')
      return { before: 'change over', rows: Number(rows || 1), after: Number(rows) > 1 ? 'rows' : 'row' };
    if (kind === 'less season') return { before: 'less its season of', rows: Number(rows), after: 'rows' };
    return { before: treatment, after: '' };
  }

  const replaced = (at: number, treatment: string) =>
    examined.treatments.map((one, index) => (index === at ? treatment : one));

  const tape = $derived(tapes.find(({ name }) => name === examined.tape));

  function focusedIf(field: HTMLInputElement, wanted: boolean): void {
    if (!wanted) return;
    field.focus();
    field.select();
  }

  const CHOICES = ['log', 'change', 'change 5', 'detrended', 'less season 12'];

  function add(text: string): void {
    isAdding = false;
    if (text.trim()) change({ treatments: [...examined.treatments, text.trim()] });
  }
</script>

<h1>
  {#if hasNumbers && !isWriting}<span class="formula"
      ><FormulaText
        text={examined.entry}
        from={0}
        onscrub={(text, start, steps, pace) => change({ entry: scrubbed(text, start, steps, pace) }, `entry ${start}`)}
        onwrite={(entry) => change({ entry })}
      /></span
    ><button type="button" class="aside" aria-label="Write what is examined" onclick={() => (isWriting = true)}
      >write</button
    >{:else}<input
      class="word formula"
      aria-label="What is examined"
      value={examined.entry}
      use:focusedIf={isWriting}
      onkeydown={(event) => event.key === 'Escape' && (isWriting = false)}
      onchange={(event) => write(event.currentTarget.value)}
      onblur={() => (isWriting = false)}
    />{/if}
  <TapeAndRule
    tape={examined.tape}
    bars={examined.bars}
    {tapes}
    onTape={(name) =>
      change({
        tape: name,
        bars: barsOnTape(
          examined.bars,
          tape,
          tapes.find((one) => one.name === name),
        ),
        from: '',
        to: '',
      })}
    onBars={(bars) => change({ bars })}
  />
  <StretchFields
    from={examined.from}
    to={examined.to}
    bars={examined.bars}
    {tape}
    {calendar}
    mark=","
    {change}
    wrong={(says) => (problem = says)}
  />
  taken
  {#if examined.treatments.length === 0}untransformed{:else}as
    {#each examined.treatments as treatment, at (at)}{@const { before, rows, after } = wordsOf(treatment)}{at > 0
        ? ', then '
        : ''}<button
        type="button"
        class="word"
        title="Leave it out"
        aria-label="Leave {treatment} out"
        onclick={() => change({ treatments: examined.treatments.filter((_, other) => other !== at) })}>{before}</button
      >{#if rows !== undefined}&nbsp;<ScrubNumber
          value={rows}
          label="Rows of {before}"
          least={before === 'change over' ? 1 : 2}
          most={1_000_000}
          onchange={(wanted) =>
            change(
              { treatments: replaced(at, before === 'change over' ? `change ${wanted}` : `less season ${wanted}`) },
              `treatment ${at}`,
            )}
        />
        {after}{/if}{/each}{/if};
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
      >first difference</button
    >
    or <button type="button" class="word" onclick={() => (isAdding = true)}>transform…</button>
  {/if}; compared with
  <span class="unbroken"
    ><select
      class="word"
      aria-label="Tape beside it"
      value={examined.beside}
      onchange={(event) => change({ beside: event.currentTarget.value, besideEntry: '' })}
    >
      <option value="">nothing</option>
      {#each tapes as { name } (name)}<option value={name}>{name}</option>{/each}
    </select>{#if examined.beside},{:else}.{/if}</span
  >{#if examined.beside}
    its
    <span class="unbroken"
      ><input
        class="word formula"
        aria-label="What is examined beside it"
        value={examined.besideEntry || examined.entry}
        onchange={(event) => {
          const entry = event.currentTarget.value.trim();
          change({ besideEntry: entry === examined.entry ? '' : entry });
        }}
      />.</span
    >{/if}
</h1>
{#if problem}<p class="problem" role="alert"><Said text={problem} /></p>{/if}

<style>
  .problem {
    margin: 2px 0 0;
    color: var(--wrong);
  }
</style>
