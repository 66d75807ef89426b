<script lang="ts">
  import type { ToldExamination } from '$lib/api/examinations';
  import Frame from './Frame.svelte';
  import { extentOfFigures, linePath } from './lines';

  let { groups: told }: { groups: NonNullable<ToldExamination['groups']> } = $props();

  const groups = $derived(told.list);
  const [low, high] = $derived([0, 2].map((at) => groups.map(({ quartiles }) => quartiles[at])));
  const means = $derived(groups.map(({ mean }) => mean));
  /** Every so many are named, so that names of that length have room. */
  const step = $derived(Math.ceil((groups.length * Math.max(3, ...groups.map(({ name }) => name.length))) / 42));
  const x = (at: number, widthPx: number) => ((at + 0.5) / groups.length) * widthPx;
  /** From the lower quartiles on and back along the upper ones. */
  function bandPath(widthPx: number, y: (value: number) => number): string {
    const at = (index: number) => x(index, widthPx);
    const back = [...high.keys()].reverse();
    const there = low.map((value, index) => (value === null ? '' : `${at(index)} ${y(value)}`));
    const again = back.map((index) => (high[index] === null ? '' : `${at(index)} ${y(high[index]!)}`));
    return `M${[...there, ...again].filter(Boolean).join('L')}Z`;
  }
</script>

<Frame label="Mean and quartiles by {told.by}" heightPx={120} extent={extentOfFigures(low, high, means)}>
  {#snippet children(widthPx, y)}
    <path class="band" d={bandPath(widthPx, y)} />
    <path class="mean" d={linePath(means, (at) => x(at, widthPx), y)} />
    {#each groups as { mean }, at (at)}{#if mean !== null}<circle cx={x(at, widthPx)} cy={y(mean)} r="2" />{/if}{/each}
  {/snippet}
</Frame>
<p aria-hidden="true">
  {#each groups as { name, count }, at (name)}{#if at % step === 0}<span
        title="{count} values"
        style:left="calc((100% - 58px) * {(at + 0.5) / groups.length})">{name}</span
      >{/if}{/each}
</p>

<style>
  .band {
    fill: var(--span);
  }
  .mean {
    fill: none;
    stroke: var(--ink-2);
    stroke-width: 1.6;
  }
  circle {
    fill: var(--ink-2);
  }
  p {
    position: relative;
    height: 16px;
    margin: 0;
    font-size: 12px;
    color: var(--quiet);
  }
  span {
    position: absolute;
    transform: translateX(-50%);
  }
</style>
