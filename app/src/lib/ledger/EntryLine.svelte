<script lang="ts">
  import { tick } from 'svelte';
  import type { Unit } from '@jaunty-ledger/core';
  import { DASHES, INK_NAMES, memberStrength } from '$lib/chart/inks';
  import { figureText } from './figures';
  import FormulaText from './FormulaText.svelte';
  import Complaint from './Complaint.svelte';
  import { splitEntry, type EntryModel } from './laneModel';
  import type { LedgerSession } from './ledgerSession.svelte';
  import type { Pace } from './scrub';

  let { session, model, row, unit }: { session: LedgerSession; model: EntryModel; row: number; unit: Unit } = $props();

  let isEditing = $state(false);
  let draft = $state('');
  let field = $state<HTMLTextAreaElement>();
  let line = $state<HTMLElement>();

  const entry = $derived(model.entry);
  const parts = $derived(splitEntry(entry.text));
  // a fan shows many figures in one line: the tape's own decimals; one alone has room for one more
  const decimals = $derived(session.tape.priceDecimals + (model.columns.length > 1 ? 0 : 1));
  const figures = $derived(model.columns.map(({ values }) => figureText(values[row], model.unit, decimals)));
  const exact = $derived(model.columns.map(({ name, values }) => `${name} ${values[row]}`).join(', '));

  async function edit(): Promise<void> {
    draft = entry.text;
    isEditing = true;
    await tick();
    field?.focus();
    field?.select();
  }

  function apply(): void {
    if (!isEditing) return;
    isEditing = false;
    if (draft.trim()) session.editEntry(entry.id, draft.trim());
  }

  function key(event: KeyboardEvent): void {
    if (event.key === 'Enter' || event.key === 'Escape') {
      event.preventDefault();
      if (event.key === 'Enter') apply();
      isEditing = false;
      void tick().then(() => line?.querySelector<HTMLElement>('.edit')?.focus());
    }
  }

  function scrub(from: string, start: number, steps: number, pace: Pace): void {
    session.scrubEntry(entry.id, from, start, steps, pace);
  }
</script>

<div class="entry" class:hidden={entry.hidden} bind:this={line} role="group" aria-label="Entry {parts.name}">
  <button
    type="button"
    class="mark"
    aria-pressed={!entry.hidden}
    aria-label="{entry.hidden ? 'Show' : 'Hide'} {parts.name}, drawn in {INK_NAMES[entry.ink]}"
    title={entry.hidden ? 'Show' : 'Hide'}
    onclick={() => session.toggleEntry(entry.id)}
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
          stroke-dasharray={DASHES[entry.ink].join(' ')}
          opacity={memberStrength(index, count)}
        />
      {/each}
    </svg>
  </button>
  <span class="name" title={model.phrase}>{parts.name}</span>
  <span class="figures" title={exact}>{figures.join(' ')}</span>
  {#if isEditing}
    <textarea
      bind:this={field}
      bind:value={draft}
      rows="2"
      aria-label="Formula of {parts.name}"
      spellcheck="false"
      onkeydown={key}
      onblur={apply}
    ></textarea>
  {:else}
    <div class="formula">
      <FormulaText text={entry.text} from={parts.formulaAt} onscrub={scrub} />
    </div>
    {#if model.looksAhead}<span class="ahead" title="Uses rows later than its own">looks ahead</span>{/if}
    {#if model.columns.length > 0 && model.unit !== unit}<span class="ahead"
        >in {model.unit === 'number' ? 'plain numbers' : model.unit}</span
      >{/if}
    <div class="tools">
      <button type="button" class="aside edit" onclick={edit} aria-label="Edit {parts.name}">edit</button>
      <button type="button" class="aside" onclick={() => session.removeEntry(entry.id)} aria-label="Remove {parts.name}"
        >remove</button
      >
    </div>
  {/if}
  {#if model.wrong}
    <div class="complaint"><Complaint text={entry.text} complaint={model.wrong} /></div>
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
  .mark {
    background: none;
    border: 0;
    padding: 0;
    align-self: center;
    width: 20px;
    height: 14px;
  }
  .mark svg {
    display: block;
  }
  .name {
    font-weight: 600;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .hidden .name,
  .hidden .figures {
    color: var(--quiet);
    font-weight: 400;
  }
  .hidden .mark svg {
    opacity: 0.3;
  }
  .figures {
    text-align: right;
    white-space: pre-wrap;
    overflow-wrap: anywhere;
  }
  .formula {
    grid-column: 2 / -1;
    font-family: var(--mono);
    font-size: 12px;
    line-height: 1.5;
    color: var(--quiet);
    overflow-wrap: anywhere;
  }
  /* over the formula's last line, so that nothing moves when they appear */
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
  textarea {
    grid-column: 2 / -1;
    font-family: var(--mono);
    font-size: 12px;
    line-height: 1.5;
    color: var(--ink);
    background: var(--paper-raised);
    border: 1px solid var(--rule);
    padding: 2px 4px;
    resize: none;
    width: 100%;
    box-sizing: border-box;
  }
  .complaint {
    grid-column: 2 / -1;
  }
</style>
