<script lang="ts">
  import type { ToldAccuracy } from '$lib/api/projections';
  import Frame from '$lib/examine/Frame.svelte';
  import { extentOfFigures, linePath } from '$lib/examine/lines';
  import { dashes, inks } from './models';

  let { accuracy, models, focus }: { accuracy: ToldAccuracy; models: readonly string[]; focus: number } = $props();

  const lines = $derived(
    models.map(
      (model) => accuracy.models.find((one) => one.model === model)?.ahead.map(({ against }) => against) ?? [],
    ),
  );
  const extent = $derived(extentOfFigures(...lines, [0.9, 1.1]));
  const count = $derived(Math.max(1, ...lines.map((line) => line.length)));
  const x = (h: number, widthPx: number) => ((h + 0.5) / count) * widthPx;
</script>

<Frame label="Error by rows ahead, over that of the last value" heightPx={150} {extent}>
  {#snippet children(widthPx, y)}
    <line class="one" x1="0" x2={widthPx} y1={y(1)} y2={y(1)} />
    {#each lines as line, at (at)}
      {#if models[at] !== 'last'}<path
          class:focus={at === focus}
          d={linePath(line, (h) => x(h, widthPx), y)}
          stroke={inks(at)}
          stroke-dasharray={dashes(at)}
        />{/if}
    {/each}
  {/snippet}
</Frame>
<p aria-hidden="true"><span>1</span><span>{count} rows ahead</span></p>

<style>
  path {
    fill: none;
    stroke-width: 1.5;
  }
  .focus {
    stroke-width: 2.4;
  }
  .one {
    stroke: var(--ink);
    stroke-dasharray: 3 3;
  }
  p {
    display: flex;
    justify-content: space-between;
    margin: 0 58px 0 0;
    font-size: 12px;
    color: var(--quiet);
  }
</style>
