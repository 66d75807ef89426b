<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Input from '$lib/components/Input.svelte';
  import Select from '$lib/components/Select.svelte';
  import { BAR_SHAPES, LANE_SCALES, type LedgerLane } from '$lib/api/ledgers';
  import type { LaneScale } from '$lib/plots/laneScale';
  import type { LedgerDocument } from './ledgerDocument.svelte';

  interface Props {
    document: LedgerDocument;
    lane: LedgerLane;
    scale: LaneScale;
    /** Whether the bars are single values. */
    isSingle: boolean;
  }
  let { document, lane, scale, isSingle }: Props = $props();

  const SCALE_TEXT: Record<LedgerLane['scale'], string> = {
    fit: 'fit to what is seen',
    zero: 'with zero',
    fixed: 'fixed',
    log: 'logarithmic',
    percent: 'percent from the first bar',
    above: 'that of the lane above',
  };
  const hasAbove = $derived(document.body.lanes[0]?.id !== lane.id);
  const isLast = $derived(document.body.lanes[document.body.lanes.length - 1]?.id === lane.id);
  const set = (style: Parameters<LedgerDocument['styleLane']>[1]) => document.styleLane(lane.id, style);

  function setScale(kind: LedgerLane['scale']): void {
    // a fixed scale begins with what is seen
    const [low, high] = scale.extent ?? [0, 1];
    set(kind === 'fixed' && lane.scale !== 'percent' ? { scale: kind, low, high } : { scale: kind });
  }

  const numberOf = (event: Event) => {
    const { value } = event.currentTarget as HTMLInputElement;
    return value === '' || !Number.isFinite(Number(value)) ? null : Number(value);
  };
</script>

<div class="tools">
  <h3>Drawing</h3>
  {#if lane.base === 'price'}
    <label
      ><span>{isSingle ? 'values' : 'prices'} as</span>
      <Select
        isWide
        class="min-w-0"
        value={lane.bars}
        onchange={(event) => set({ bars: event.currentTarget.value as typeof lane.bars })}
      >
        {#each BAR_SHAPES as shape (shape)}<option value={shape}>{shape === 'dots' ? 'closing dots' : shape}</option
          >{/each}
      </Select></label
    >
  {/if}
  <label
    ><span>scale</span>
    <Select
      isWide
      class="min-w-0"
      value={lane.scale}
      onchange={(event) => setScale(event.currentTarget.value as LedgerLane['scale'])}
    >
      {#each LANE_SCALES.filter((kind) => kind !== 'above' || hasAbove) as kind (kind)}<option value={kind}
          >{SCALE_TEXT[kind]}</option
        >{/each}
    </Select></label
  >
  {#if lane.scale === 'fixed'}
    {#each ['low', 'high'] as const as end (end)}
      <label
        ><span>{end === 'low' ? 'from' : 'to'}</span>
        <Input
          class="w-full! min-w-0"
          type="number"
          step="any"
          value={lane[end] ?? undefined}
          onchange={(event) => set({ [end]: numberOf(event) })}
        /></label
      >
    {/each}
  {/if}
  <h3>Figures</h3>
  <label
    ><span>decimals</span>
    <Input
      class="w-full! min-w-0"
      type="number"
      min="0"
      max="9"
      placeholder="own"
      value={lane.decimals ?? undefined}
      onchange={(event) => set({ decimals: numberOf(event) })}
    /></label
  >
  {#each [['currency or sign before', 'prefix'], ['unit after', 'unit']] as const as [text, part] (part)}
    <label
      ><span>{text}</span>
      <Input
        class="w-full! min-w-0"
        maxlength={8}
        value={lane[part]}
        onkeydown={(event) => event.key !== 'Escape' && event.stopPropagation()}
        onchange={(event) => set({ [part]: event.currentTarget.value })}
      /></label
    >
  {/each}
  <h3>Place</h3>
  <div class="acts">
    <Button look="word" disabled={!hasAbove} onclick={() => document.moveLane(lane.id, -1)}>move up</Button>
    <Button look="word" disabled={isLast} onclick={() => document.moveLane(lane.id, 1)}>move down</Button>
    <Button look="word" onclick={() => set({ collapsed: !lane.collapsed })}>{lane.collapsed ? 'unfold' : 'fold'}</Button
    >
  </div>
</div>

<style>
  .tools {
    display: grid;
    grid-template-columns: auto minmax(9rem, auto);
    gap: 5px 14px;
    align-items: baseline;
  }
  label {
    display: contents;
  }
  h3 {
    grid-column: 1 / -1;
    margin: 4px 0 0;
    font-size: 13px;
    font-weight: 400;
    font-style: italic;
    color: var(--quiet);
    border-bottom: 1px solid var(--rule-faint);
  }
  h3:first-child {
    margin-top: 0;
  }
  option {
    color: var(--ink);
    background: var(--paper-raised);
  }
  .acts {
    grid-column: 1 / -1;
    display: flex;
    gap: 16px;
  }
</style>
