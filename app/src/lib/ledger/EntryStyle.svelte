<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Checkbox from '$lib/components/Checkbox.svelte';
  import Input from '$lib/components/Input.svelte';
  import Select from '$lib/components/Select.svelte';
  import { splitEntry } from '@jaunty-ledger/core';
  import { ENTRY_SHAPES } from '$lib/api/ledgers';
  import { reasonOf } from '$lib/api/problems';
  import { DASH_NAMES, INK_NAMES } from '$lib/chart/inks';
  import type { EntryModel } from '$lib/plots/laneModel';
  import type { LedgerDocument } from './ledgerDocument.svelte';

  interface Props {
    document: LedgerDocument;
    model: EntryModel;
    openWorking: () => void;
    /** Where the entry is examined. */
    examine: string;
    onclose: () => void;
  }
  let { document, model, openWorking, examine, onclose }: Props = $props();

  const entry = $derived(model.entry);
  const parts = $derived(splitEntry(entry.text));
  const name = $derived(parts.name);
  const set = (style: Parameters<LedgerDocument['styleEntry']>[1]) => document.styleEntry(entry.id, style);
  let told = $state('');

  async function toggleKept(): Promise<void> {
    try {
      await document.kept.toggle(parts);
      told = '';
    } catch (error) {
      told = reasonOf(error);
    }
  }

  const widths = [
    ['fine', 1],
    ['usual', 1.7],
    ['strong', 2.6],
  ] as const;
</script>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<div
  class="style small-print"
  role="group"
  aria-label="How {name} is drawn"
  onkeydown={(event) => {
    if (event.key === 'Escape') onclose();
  }}
>
  <div class="acts">
    <Button aria-label="Working of {name}" onclick={openWorking}>working</Button>
    <a class="aside" href={examine} aria-label="Examine {name}">examine</a>
    <Button onclick={() => document.soloEntry(entry.id)}>show alone</Button>
    <Button onclick={() => document.duplicateEntry(entry.id)}>copy</Button>
    <Button aria-label="Remove {name}" onclick={() => document.removeEntry(entry.id)}>remove</Button>
    <Button onclick={() => document.moveEntry(entry.id, -1)}>up</Button>
    <Button onclick={() => document.moveEntry(entry.id, 1)}>down</Button>
    <Button onclick={() => document.moveToNewLane(entry.id)}>own lane</Button>
    <Button onclick={toggleKept}
      >{document.kept.has(parts) ? 'remove from saved formulas' : 'save for other ledgers'}</Button
    >
    <span role="status">{told}</span>
  </div>
  <div class="inks">
    {#each INK_NAMES as ink, index (ink)}
      <Button
        look="bare"
        class="size-[18px] rounded-full aria-pressed:outline-2 aria-pressed:outline-offset-2 aria-pressed:outline-(--ink)"
        aria-label="Ink {ink}"
        title={ink}
        aria-pressed={entry.ink === index}
        style="background: var(--ink-{index})"
        onclick={() => set({ ink: index })}
      ></Button>
    {/each}
  </div>
  <label
    >label <Input
      class="w-[9em]!"
      maxlength={40}
      value={entry.label}
      aria-label="Label of {name}"
      onkeydown={(event) => event.stopPropagation()}
      onchange={(event) => set({ label: event.currentTarget.value.trim() })}
    /></label
  >
  <label
    >as <Select
      value={entry.drawn}
      onchange={(event) => set({ drawn: event.currentTarget.value as typeof entry.drawn })}
    >
      {#each ENTRY_SHAPES as shape (shape)}<option value={shape}>{shape}</option>{/each}
    </Select></label
  >
  <label
    >line <Select
      value={String(entry.dash ?? '')}
      onchange={(event) => set({ dash: event.currentTarget.value === '' ? null : Number(event.currentTarget.value) })}
    >
      <option value="">that of its ink</option>
      {#each DASH_NAMES as says, index (says)}<option value={String(index)}>{says}</option>{/each}
    </Select></label
  >
  <label
    >width <Select value={String(entry.width)} onchange={(event) => set({ width: Number(event.currentTarget.value) })}>
      {#each widths as [says, width] (says)}<option value={String(width)}>{says}</option>{/each}
    </Select></label
  >
  <label
    >drawn <Input
      class="w-[4em]!"
      type="number"
      min="-1000"
      max="1000"
      value={entry.shift}
      aria-label="Rows that {name} is drawn later"
      onchange={(event) => set({ shift: Math.round(Number(event.currentTarget.value)) || 0 })}
    /> bars later</label
  >
  <label
    ><Checkbox checked={entry.second} onchange={(event) => set({ second: event.currentTarget.checked })} /> on its own scale</label
  >
</div>

<style>
  .style {
    grid-column: 2 / -1;
    display: flex;
    flex-wrap: wrap;
    gap: 4px 10px;
    align-items: center;
    padding: 6px 0 4px;
    font-size: 13px;
    border-top: 1px solid var(--rule);
    margin-top: 4px;
  }
  .inks {
    display: flex;
    gap: 5px;
    width: 100%;
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 10px;
    width: 100%;
  }
</style>
