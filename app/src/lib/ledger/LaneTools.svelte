<script lang="ts">
  import { BAR_SHAPES, LANE_SCALES, type LedgerLane } from '$lib/api/ledgers';
  import type { LaneScale } from '$lib/plots/laneScale';
  import type { LedgerDocument } from './ledgerDocument.svelte';

  let { document, lane, scale }: { document: LedgerDocument; lane: LedgerLane; scale: LaneScale } = $props();

  const SCALE_TEXT: Record<LedgerLane['scale'], string> = {
    fit: 'fit to what is seen',
    zero: 'with zero',
    fixed: 'fixed',
    log: 'logarithmic',
    percent: 'percent from the first bar',
    above: 'that of the lane above',
  };
  const hasAbove = $derived(document.body.lanes[0]?.id !== lane.id);
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

<div class="tools small-print" role="group" aria-label="How the lane is drawn">
  {#if lane.base === 'price'}
    <label
      >prices as <select
        value={lane.bars}
        onchange={(event) => set({ bars: event.currentTarget.value as typeof lane.bars })}
      >
        {#each BAR_SHAPES as shape (shape)}<option value={shape}>{shape === 'dots' ? 'closing dots' : shape}</option
          >{/each}
      </select></label
    >
  {/if}
  <label
    >scale <select value={lane.scale} onchange={(event) => setScale(event.currentTarget.value as LedgerLane['scale'])}>
      {#each LANE_SCALES.filter((kind) => kind !== 'above' || hasAbove) as kind (kind)}<option value={kind}
          >{SCALE_TEXT[kind]}</option
        >{/each}
    </select></label
  >
  {#if lane.scale === 'fixed'}
    <label
      >from <input
        type="number"
        step="any"
        value={lane.low}
        onchange={(event) => set({ low: numberOf(event) })}
      /></label
    >
    <label
      >to <input
        type="number"
        step="any"
        value={lane.high}
        onchange={(event) => set({ high: numberOf(event) })}
      /></label
    >
  {/if}
  <label
    >places <input
      type="number"
      min="0"
      max="9"
      placeholder="own"
      value={lane.decimals}
      onchange={(event) => set({ decimals: numberOf(event) })}
    /></label
  >
  {#each [['before figures', 'prefix'], ['unit', 'unit']] as const as [says, part] (part)}
    <label
      >{says}
      <input
        class="text"
        maxlength="8"
        value={lane[part]}
        onkeydown={(event) => event.stopPropagation()}
        onchange={(event) => set({ [part]: event.currentTarget.value })}
      /></label
    >
  {/each}
  <div class="acts">
    <button type="button" class="aside" onclick={() => document.moveLane(lane.id, -1)}>lane up</button>
    <button type="button" class="aside" onclick={() => document.moveLane(lane.id, 1)}>lane down</button>
    <button type="button" class="aside" onclick={() => set({ collapsed: !lane.collapsed })}
      >{lane.collapsed ? 'unfold' : 'fold'}</button
    >
  </div>
</div>

<style>
  .tools {
    display: flex;
    flex-wrap: wrap;
    gap: 3px 10px;
    font-size: 13px;
    border-bottom: 1px solid var(--rule);
    padding-bottom: 6px;
  }
  select {
    max-width: 160px;
  }
  input {
    width: 5em;
  }
  input.text {
    width: 3.5em;
  }
  .acts {
    display: flex;
    gap: 10px;
    width: 100%;
  }
</style>
