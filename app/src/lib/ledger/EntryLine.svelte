<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import { figureText, splitEntry } from '@jaunty-ledger/core';
  import { tick } from 'svelte';
  import type { Unit } from '@jaunty-ledger/core';
  import { dashOf, INK_NAMES, memberStrength } from '$lib/chart/inks';
  import FormulaText from '$lib/components/FormulaText.svelte';
  import ComplaintText from './Complaint.svelte';
  import { definitionOf, type EntryModel } from '$lib/plots/laneModel';
  import EntryInput from './EntryInput.svelte';
  import EntryStyle from './EntryStyle.svelte';
  import type { Complaint } from './complaint';
  import type { LedgerSession } from './ledgerSession.svelte';
  import { missingReason } from './missingReason';
  import { readingOf } from '$lib/plots/readings';
  import { fanned, type StepSize } from '$lib/components/scrub';

  let {
    session,
    model,
    row,
    unit,
    isFlat,
    drop,
  }: {
    session: LedgerSession;
    model: EntryModel;
    row: number;
    unit: Unit;
    /** Whether the line can hardly be told from a straight one on the scale of its lane. */
    isFlat: boolean;
    /** Puts another entry before this one. */
    drop: (id: string) => void;
  } = $props();

  let isEditing = $state(false);
  let isOpen = $state(false);
  let line = $state<HTMLElement>();

  const { document } = $derived(session);
  const entry = $derived(model.entry);
  const parts = $derived(splitEntry(entry.text));
  // a fan shows many figures in one line: the tape's own decimals; one alone has room for one more
  const decimals = $derived(session.view.tape.priceDecimals + (model.columns.length > 1 ? 0 : 1));
  // a line that is drawn later stands at the pointer with the value of an earlier row
  const at = $derived(row - model.shift);
  const figures = $derived(model.columns.map(({ values }) => figureText(values[at] ?? NaN, model.unit, decimals)));
  const reading = $derived(readingOf(model, session.view.bars!.close, row, session.view.precision));
  const isMissing = $derived(
    model.columns.length > 0 &&
      session.view.rows > 0 &&
      model.columns.every(({ firstValid, values }) => firstValid >= values.length),
  );
  /** What each figure is of, where there are several. */
  const labels = $derived(model.columns.map(({ member, part }) => [member, part].filter(Boolean).join(' ')));
  const exact = $derived(model.columns.map(({ name, values }) => `${name} ${values[at] ?? 'none'}`).join(', '));

  function left(): void {
    isEditing = false;
    void tick().then(() => line?.querySelector<HTMLElement>('.edit')?.focus());
  }

  async function rewrite(text: string): Promise<Complaint | undefined> {
    document.editEntry(entry.id, text);
    return undefined; // kept as written: what is wrong with it stands beside it
  }

  function scrub(from: string, start: number, steps: number, pace: StepSize): void {
    document.scrubEntry(entry.id, from, start, steps, pace);
  }
</script>

<div
  class="entry"
  class:hidden={entry.hidden}
  bind:this={line}
  role="group"
  aria-label="Entry {parts.name}"
  ondragover={(event) => event.dataTransfer?.types.includes('text/entry') && event.preventDefault()}
  ondrop={(event) => {
    event.stopPropagation();
    const id = event.dataTransfer?.getData('text/entry');
    if (id && id !== entry.id) drop(id);
  }}
>
  <Button
    look="bare"
    class={['mark h-3.5 w-5 self-center', entry.hidden && 'opacity-30']}
    aria-pressed={!entry.hidden}
    aria-label="{entry.hidden ? 'Show' : 'Hide'} {parts.name}, drawn in {INK_NAMES[entry.ink]}"
    title={entry.hidden ? 'Show' : 'Hide'}
    onclick={() => document.toggleEntry(entry.id)}
  >
    <svg viewBox="0 0 20 14" aria-hidden="true">
      {#each model.columns.length > 0 ? model.columns.slice(0, 3) : [undefined] as _, index (index)}
        {@const count = Math.min(3, Math.max(1, model.columns.length))}
        <line
          x1="1"
          x2="19"
          y1={7 + (index - (count - 1) / 2) * 4.5}
          y2={7 + (index - (count - 1) / 2) * 4.5}
          stroke="var(--ink-{entry.ink})"
          stroke-width="2.2"
          stroke-dasharray={dashOf(entry).join(' ')}
          opacity={memberStrength(index, count)}
        />
      {/each}
    </svg>
  </Button>
  <span
    class="name"
    title={[model.phrase, definitionOf(parts.formula)].filter(Boolean).join('\n')}
    draggable="true"
    role="presentation"
    ondragstart={(event) => event.dataTransfer?.setData('text/entry', entry.id)}
    >{parts.name}{#if entry.label}<span class="label">{entry.label}</span>{/if}</span
  >
  {#if figures.length > 0}
    <Button
      look="bare"
      class={[
        'hover:underline hover:decoration-dotted',
        figures.length > 1
          ? 'several col-[2/-1] flex flex-wrap gap-x-3 text-[13.5px]'
          : ['figures text-right whitespace-nowrap', entry.hidden && 'font-normal text-(--quiet)'],
      ]}
      title={exact}
      onclick={() => session.view.openWorking(entry.id)}
      >{#if figures.length > 1}{#each figures as figure, index (index)}<span
            ><span class="of">{labels[index]}</span> {figure}</span
          >{/each}{:else}{figures[0]}{/if}</Button
    >
  {/if}
  {#if reading}<span class="reading">{reading}</span>{/if}
  {#if isEditing}
    <div class="field">
      <EntryInput
        label="Formula of {parts.name}"
        initial={entry.text}
        names={session.names}
        texts={session.texts}
        phrases={session.phrases}
        submit={rewrite}
        onleave={left}
      />
    </div>
  {:else}
    {#if model.isProjection}<span class="ahead" title="Forecast bars, computed from all values up to the last one"
        >projection</span
      >
    {:else if model.looksAhead}<span class="ahead" title="Uses later rows (look-ahead)">looks ahead</span>{/if}
    {#if model.columns.length > 0 && model.unit !== unit}<span class="ahead"
        >in {{ number: 'plain numbers', move: 'price differences' }[model.unit as string] ?? model.unit}</span
      >{/if}
    {#if entry.second}<span class="ahead"
        >on its own scale
        <Button aria-label="move to a new lane: {parts.name}" onclick={() => document.moveToNewLane(entry.id)}
          >move to a new lane</Button
        ></span
      >{/if}
    <div class="formula-line" class:holds-tools={figures.length <= 1}>
      <div class="formula" class:roomy={figures.length <= 1}>
        <FormulaText
          text={entry.text}
          from={parts.formulaAt}
          onscrub={scrub}
          onwrite={(text) => document.editEntry(entry.id, text)}
          onfan={(start) => document.editEntry(entry.id, fanned(entry.text, start))}
        />
      </div>
      <div class="tools" class:above={figures.length > 1}>
        <Button class="edit" onclick={() => (isEditing = true)} aria-label="Edit {parts.name}">edit</Button>
        <Button aria-expanded={isOpen} aria-label="More of {parts.name}" onclick={() => (isOpen = !isOpen)}>more</Button
        >
      </div>
    </div>
  {/if}
  {#if isFlat && !isEditing}
    <Button class="col-[2/-1] text-[12px]" onclick={() => document.styleEntry(entry.id, { second: true })}
      >too flat here: use its own scale</Button
    >
  {/if}
  {#if isOpen}<EntryStyle
      {document}
      {model}
      openWorking={() => session.view.openWorking(entry.id)}
      examine={session.examineAddress(entry.text)}
      onclose={() => (isOpen = false)}
    />{/if}
  {#if isMissing}
    <p class="missing" role="status">
      Missing in every row: {missingReason(parts.formula, session.view.tape, session.view.rows)}
    </p>
  {/if}
  {#if model.wrong}
    <div class="complaint"><ComplaintText text={entry.text} complaint={model.wrong} /></div>
  {/if}
</div>

<style>
  .entry {
    position: relative;
    display: grid;
    grid-template-columns: 22px auto minmax(0, 1fr);
    column-gap: 6px;
    align-items: baseline;
  }
  .name {
    cursor: grab;
    font-weight: 600;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .hidden .name {
    color: var(--quiet);
    font-weight: 400;
  }
  .label {
    margin-left: 0.35em;
    font-weight: 400;
    font-style: italic;
  }
  .reading {
    grid-column: 2 / -1;
    font-size: 12.5px;
    color: var(--quiet);
  }
  .formula-line {
    grid-column: 2 / -1;
  }
  .holds-tools {
    position: relative;
  }
  .formula {
    font-family: var(--mono);
    font-size: 12px;
    line-height: 1.5;
    color: var(--quiet);
    overflow-wrap: anywhere;
  }
  /* room for the tools behind the formula's last word; beside several figures they stand on the line of the name */
  .roomy::after {
    content: '';
    display: inline-block;
    width: 58px;
  }
  /* over that room, so that nothing moves when they appear */
  .tools {
    position: absolute;
    right: 0;
    bottom: 0;
    display: flex;
    gap: 6px;
    align-items: baseline;
    padding-left: 10px;
    font-size: 12px;
    background: var(--paper);
    opacity: 0;
  }
  .tools.above {
    bottom: auto;
    top: 0;
  }
  .entry:hover .tools,
  .entry:focus-within .tools {
    opacity: 1;
  }
  .ahead {
    grid-column: 2 / -1;
    font-size: 12px;
    font-style: italic;
    color: var(--quiet);
  }
  .missing {
    grid-column: 2 / -1;
    margin: 0;
    font-size: 13px;
    line-height: 1.3;
    color: var(--wrong);
  }
  .field {
    grid-column: 2 / -1;
    text-align: left;
  }
  .complaint {
    grid-column: 2 / -1;
  }
</style>
