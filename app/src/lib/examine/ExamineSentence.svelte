<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Input from '$lib/components/Input.svelte';
  import Select from '$lib/components/Select.svelte';
  import { fromAction } from 'svelte/attachments';
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

  const USUAL_SEASON = 12;

  let problem = $state('');
  /** Whether the formula is written, rather than its numbers turned. */
  let isWriting = $state(false);
  const hasNumbers = $derived(formulaParts(examined.entry).some(({ kind }) => kind === 'number'));

  const write = (entry: string) => {
    isWriting = false;
    change({ entry: entry.trim() || 'close' });
  };

  /** A treatment in words, around the rows that it goes over. */
  function wordsOf(treatment: string): { kind: string; before: string; rows?: number; after: string } {
    const [, kind, rows] = /^(change|relative change|less season)\s*(\d*)$/.exec(treatment) ?? [];
    if (kind === 'less season') return { kind, before: 'seasonally adjusted over', rows: Number(rows), after: 'bars' };
    if (kind === undefined) return { kind: treatment, before: treatment, after: '' };
    const before = kind === 'change' ? 'difference over' : 'relative change over';
    return { kind, before, rows: Number(rows || 1), after: Number(rows) > 1 ? 'bars' : 'bar' };
  }

  const replaced = (at: number, treatment: string) =>
    examined.treatments.map((one, index) => (index === at ? treatment : one));

  const tape = $derived(tapes.find(({ name }) => name === examined.tape));

  function focusedIf(field: HTMLInputElement, wanted: boolean): void {
    if (!wanted) return;
    field.focus();
    field.select();
  }

  /** Transforms by their names, with bars to begin with; those are changed in the sentence. */
  const TRANSFORMS = [
    ['log', 'log'],
    ['difference', 'change'],
    ['relative change', 'relative change'],
    ['detrended', 'detrended'],
    ['seasonally adjusted', `less season ${USUAL_SEASON}`],
  ] as const;

  const add = (treatment: string) => change({ treatments: [...examined.treatments, treatment] });
</script>

<h1>
  {#if hasNumbers && !isWriting}<span class="formula"
      ><FormulaText
        text={examined.entry}
        from={0}
        onscrub={(text, start, steps, pace) => change({ entry: scrubbed(text, start, steps, pace) }, `entry ${start}`)}
        onwrite={(entry) => change({ entry })}
      /></span
    ><Button aria-label="Write what is examined" onclick={() => (isWriting = true)}>write</Button>{:else}<Input
      look="word"
      class="formula"
      aria-label="What is examined"
      value={examined.entry}
      {@attach fromAction(focusedIf, () => isWriting)}
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
    {#each examined.treatments as treatment, at (at)}{@const { kind, before, rows, after } = wordsOf(treatment)}{at > 0
        ? ', then '
        : ''}<Button
        look="word"
        title="Leave it out"
        aria-label="Leave {treatment} out"
        onclick={() => change({ treatments: examined.treatments.filter((_, other) => other !== at) })}>{before}</Button
      >{#if rows !== undefined}&nbsp;<ScrubNumber
          value={rows}
          label="Rows of {before}"
          least={kind === 'less season' ? 2 : 1}
          most={1_000_000}
          onchange={(wanted) => change({ treatments: replaced(at, `${kind} ${wanted}`) }, `treatment ${at}`)}
        />
        {after}{/if}{/each}{/if};
  <Button look="word" onclick={() => add('change')}>first difference</Button>
  or
  <Select
    look="word"
    aria-label="Add a transform"
    current={() => ''}
    onchange={(event) => add(event.currentTarget.value)}
  >
    <option value="" disabled hidden>transform…</option>
    {#each TRANSFORMS as [name, treatment] (name)}<option value={treatment}>{name}</option>{/each}
  </Select>; compared with
  <span class="unbroken"
    ><Select
      look="word"
      aria-label="Tape to compare with"
      value={examined.beside}
      onchange={(event) => change({ beside: event.currentTarget.value, besideEntry: '' })}
    >
      <option value="">nothing</option>
      {#each tapes as { name } (name)}<option value={name}>{name}</option>{/each}
    </Select>{#if examined.beside},{:else}.{/if}</span
  >{#if examined.beside}
    its
    <span class="unbroken"
      ><Input
        look="word"
        class="formula"
        aria-label="Entry to compare with"
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
