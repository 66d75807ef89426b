<script lang="ts">
  import { WEEKDAYS } from '@jaunty-ledger/core';
  import type { ToldExamination } from '$lib/api/examinations';
  import Frame from './Frame.svelte';
  import { extentOfFigures, linePath } from './lines';

  let { profile }: { profile: NonNullable<ToldExamination['profile']> } = $props();

  const groups = $derived(profile.groups);
  const [low, high] = $derived([0, 2].map((at) => groups.map(({ quartiles }) => quartiles[at])));
  const means = $derived(groups.map(({ mean }) => mean));
  const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
  const nameOf = (group: number) =>
    profile.by === 'weekday' ? WEEKDAYS[group] : profile.by === 'month' ? MONTHS[group - 1] : String(group);
  const step = $derived(Math.ceil(groups.length / 12));
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

<Frame label="Mean and quartiles by {profile.by}" heightPx={120} extent={extentOfFigures(low, high, means)}>
  {#snippet children(widthPx, y)}
    <path class="band" d={bandPath(widthPx, y)} />
    <path class="mean" d={linePath(means, (at) => x(at, widthPx), y)} />
    {#each groups as { mean }, at (at)}{#if mean !== null}<circle cx={x(at, widthPx)} cy={y(mean)} r="2" />{/if}{/each}
  {/snippet}
</Frame>
<p aria-hidden="true">
  {#each groups as { group, count }, at (group)}{#if at % step === 0}<span
        title="{count} values"
        style:left="calc((100% - 58px) * {(at + 0.5) / groups.length})">{nameOf(group)}</span
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
