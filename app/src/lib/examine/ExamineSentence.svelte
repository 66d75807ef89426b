<script lang="ts">
  import { DAY, instantOf, rfc3339, type Calendar, type Precision } from '@jaunty-ledger/core';
  import type { Tape } from '$lib/api/tapes';
  import Said from '$lib/components/Said.svelte';
  import FormulaText from '$lib/components/FormulaText.svelte';
  import { dragSteps } from '$lib/components/dragSteps';
  import ScrubNumber from '$lib/components/ScrubNumber.svelte';
  import { formulaParts, scrubbed } from '$lib/components/scrub';
  import TapeAndRule from '$lib/pages/TapeAndRule.svelte';
  import { momentFigures } from '$lib/plots/stretchText';
  import { readStretch } from '$lib/plots/stretchInput';
  import { readKind, type Examined } from './examineAddress';

  interface Props {
    examined: Examined;
    tapes: readonly Tape[];
    calendar: Calendar | undefined;
    precision: Precision;
    change: (what: Partial<Examined>, group?: string) => void;
  }
  let { examined, tapes, calendar, precision, change }: Props = $props();

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

  const tape = $derived(tapes.find(({ name }) => name === examined.tape));
  /** Ends move by the length of a bar, or by a day where bars go by something else. */
  const barMicros = $derived.by(() => {
    const kind = readKind(examined.bars);
    if (kind?.by === 'interval') return kind.micros;
    return DAY * (kind?.by === 'period' ? { day: 1, week: 7, month: 30, quarter: 91, year: 365 }[kind.unit] : 1);
  });
  /** Moves an end of the stretch by so many bars from where it stands; an open one stands at the tape's own. */
  function mover(end: 'from' | 'to'): (steps: number) => void {
    const at = instantOf(examined[end] || tape?.[end] || '');
    return (steps) => {
      if (!Number.isNaN(at)) change({ [end]: rfc3339(at + steps * barMicros) }, end);
    };
  }
  function turnEnd(event: KeyboardEvent, end: 'from' | 'to'): void {
    const steps = { ArrowUp: 1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[event.key];
    if (steps === undefined) return;
    event.preventDefault();
    mover(end)(steps * (event.shiftKey ? 10 : 1));
  }
  const fields = $state<{ from?: HTMLInputElement; to?: HTMLInputElement }>({});
  const gesturesOf = (end: 'from' | 'to') => ({ begin: () => mover(end), press: () => fields[end]?.select() });

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
    onTape={(tape) => change({ tape })}
    onBars={(bars) => change({ bars })}
  />
  from
  <input
    class="word"
    aria-label="First bar"
    placeholder="the first"
    title="Type it, drag it sideways, or use the arrow keys"
    bind:this={fields.from}
    use:dragSteps={gesturesOf('from')}
    onkeydown={(event) => turnEnd(event, 'from')}
    value={ends.from}
    onchange={(event) => type({ from: event.currentTarget.value })}
  />
  to
  <span class="unbroken"
    ><input
      class="word"
      aria-label="Last bar"
      placeholder="the last"
      title="Type it, drag it sideways, or use the arrow keys"
      bind:this={fields.to}
      use:dragSteps={gesturesOf('to')}
      onkeydown={(event) => turnEnd(event, 'to')}
      value={ends.to}
      onchange={(event) => type({ to: event.currentTarget.value })}
    />,</span
  >
  taken
  {#if examined.treatments.length === 0}as it stands{:else}as
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
      >take its change</button
    >
    or <button type="button" class="word" onclick={() => (isAdding = true)}>treat it otherwise</button>
  {/if}; beside it
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
