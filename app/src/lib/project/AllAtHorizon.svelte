<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import type { ToldProjections } from '$lib/api/projections';
  import { inks } from './models';

  interface Props {
    told: ToldProjections;
    horizon: number;
    figureText: (value: number | null) => string;
  }
  let { told, horizon, figureText }: Props = $props();

  const ROW_PX = 18;
  const NAME_PX = 130;
  let wholePx = $state(0);
  const found = $derived(
    told.models.flatMap(({ model, value }, at) => {
      const one = value[horizon - 1];
      return one === null || one === undefined ? [] : [{ model, at, value: one }];
    }),
  );
  const sorted = $derived(found.map(({ value }) => value).sort((a, b) => a - b));
  /** On the straight line between the values in order about it. */
  function quantile(p: number): number {
    const place = p * (sorted.length - 1);
    const below = Math.floor(place);
    const above = Math.min(sorted.length - 1, below + 1);
    return sorted[below] + (place - below) * (sorted[above] - sorted[below]);
  }
  const spread = $derived(
    sorted.length > 0 ? sorted[sorted.length - 1] - sorted[0] || Math.abs(sorted[0]) * 0.01 || 1 : 1,
  );
  const x = $derived(
    scaleLinear(
      [(sorted[0] ?? 0) - 0.06 * spread, (sorted[sorted.length - 1] ?? 1) + 0.06 * spread],
      [NAME_PX, Math.max(NAME_PX + 1, wholePx - 70)],
    ),
  );
  const height = $derived(found.length * ROW_PX + 12);
</script>

<div bind:clientWidth={wholePx}>
  {#if found.length > 0 && wholePx > 0}
    <svg
      width={wholePx}
      {height}
      role="img"
      aria-label="What each model says {horizon} rows ahead, over the half in the middle"
    >
      {#if found.length > 3}
        <rect
          x={x(quantile(0.25))}
          width={Math.max(1, x(quantile(0.75)) - x(quantile(0.25)))}
          y="0"
          height={height - 8}
        />
        <line x1={x(quantile(0.5))} x2={x(quantile(0.5))} y1="0" y2={height - 8} />
      {/if}
      {#each found as { model, at, value }, row (at)}
        <text x="0" y={row * ROW_PX + 14}>{model}</text>
        <circle cx={x(value)} cy={row * ROW_PX + 10} r="4" fill={inks(at)} />
        <text x={x(value) + 8} y={row * ROW_PX + 14}>{figureText(value)}</text>
      {/each}
    </svg>
    {#if found.length > 3}<p>
        Half of them lie between {figureText(quantile(0.25))} and {figureText(quantile(0.75))}.
      </p>{/if}
  {/if}
</div>

<style>
  rect {
    fill: var(--span);
  }
  line {
    stroke: var(--ink);
  }
  text {
    font-size: 12.5px;
    fill: var(--ink);
  }
  p {
    margin: 2px 0;
    font-size: 13px;
    color: var(--quiet);
  }
</style>
