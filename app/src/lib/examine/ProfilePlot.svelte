<script lang="ts">
  import type { ToldExamination } from '$lib/works/examination/work';
  import type { Surface } from '$lib/chart/layers';
  import { drawArea, drawDots, drawLine } from '$lib/chart/lineLayer';
  import { type SeriesFigures } from '@jaunty-ledger/core';
  import { columnOf, extentOfFigures } from '$lib/pictures/lines';
  import Enlargeable from '$lib/pictures/Enlargeable.svelte';
  import RowsPlot from '$lib/pictures/RowsPlot.svelte';
  import { RowsView } from '$lib/pictures/rowsView.svelte';

  interface Props {
    groups: NonNullable<ToldExamination['groups']>;
    figures: SeriesFigures;
  }
  let { groups: told, figures }: Props = $props();

  const view = new RowsView();
  const groups = $derived(told.list);
  $effect(() => view.show(groups.length));
  const [low, high] = $derived([0, 2].map((at) => columnOf(groups.map(({ quartiles }) => quartiles[at]))));
  const means = $derived(columnOf(groups.map(({ mean }) => mean)));
  const extent = $derived(
    extentOfFigures(...groups.map(({ mean, quartiles }) => [mean, quartiles[0] ?? null, quartiles[2] ?? null])),
  );
  const CHARACTER_PX = 7;
  /** Every so many are named, so that names have room beside each other. */
  const stepIn = (widthPx: number) => {
    const longest = Math.max(...groups.map(({ name }) => name.length));
    return Math.ceil(((view.ends[1] - view.ends[0]) * (longest + 2) * CHARACTER_PX) / Math.max(1, widthPx));
  };

  function draw(surface: Surface): void {
    drawArea(surface, high, low, { colour: 'var(--ink-1)', strength: 2.6 });
    drawLine(surface, means, { colour: 'var(--ink-2)', widthPx: 1.6 });
    drawDots(surface, means, { colour: 'var(--ink-2)', widthPx: 1.4 });
  }
</script>

<Enlargeable label="the means">
  <RowsPlot label="Mean and quartiles by {told.by}" {view} heightPx={136} footPx={16} {extent} {draw}>
    {#snippet over(x, _y, widthPx, heightPx)}
      {#each groups as { name }, at (name)}
        {#if at % stepIn(widthPx) === 0 && at >= view.ends[0] && at < view.ends[1]}
          <text x={x(at)} y={heightPx - 3} text-anchor={at === 0 ? 'start' : 'middle'}>{name}</text>
        {/if}
      {/each}
    {/snippet}
  </RowsPlot>
  <p>
    {#if view.pointer !== undefined && groups[view.pointer]}
      {@const { name, count, mean, quartiles } = groups[view.pointer]}
      <strong>{name}</strong>: mean {figures.level(mean)}, half between {figures.level(quartiles[0])} and {figures.level(
        quartiles[2],
      )}; {count.toLocaleString('en')}
      values
    {/if}
  </p>
</Enlargeable>

<style>
  text {
    font-size: 12px;
    fill: var(--quiet);
  }
  p {
    margin: 0;
    min-height: 1.4em;
    font-size: 13px;
    color: var(--quiet);
  }
</style>
