<script lang="ts">
  import type { Working } from '@jaunty-ledger/core';
  import { scaleLinear } from 'd3-scale';
  import { axisText } from './axisText';

  let { fit }: { fit: NonNullable<Working['fit']> } = $props();

  const WIDTH = 360;
  const HEIGHT = 210;
  const LEFT = 44;
  const FOOT = 34;

  const endsOf = (values: number[]): [number, number] => [Math.min(...values), Math.max(...values)];
  const x = $derived(scaleLinear(endsOf(fit.x), [LEFT + 12, WIDTH - 14]));
  const y = $derived(scaleLinear(endsOf(fit.y), [HEIGHT - FOOT - 12, 14]));
  const ends = $derived(x.domain().map((at) => ({ at, value: fit.intercept + fit.slope * at })));
  const text = (scale: typeof x) => {
    const ticks = scale.ticks(4);
    return axisText('number', ticks);
  };
</script>

<svg
  viewBox="0 0 {WIDTH} {HEIGHT}"
  role="img"
  aria-label="{fit.yName} against {fit.xName}: {fit.x
    .length} points and the line through them, slope {fit.slope.toFixed(4)}"
>
  {#each x.ticks(4) as tick (tick)}
    <text class="tick" x={x(tick)} y={HEIGHT - FOOT + 14} text-anchor="middle">{text(x)(tick)}</text>
  {/each}
  {#each y.ticks(4) as tick (tick)}
    <line class="rule" x1={LEFT} x2={WIDTH} y1={y(tick)} y2={y(tick)} />
    <text class="tick" x={LEFT - 6} y={y(tick) + 4} text-anchor="end">{text(y)(tick)}</text>
  {/each}
  <line class="axis" x1={LEFT} x2={WIDTH} y1={HEIGHT - FOOT} y2={HEIGHT - FOOT} />
  <line class="fit" x1={x(ends[0].at)} y1={y(ends[0].value)} x2={x(ends[1].at)} y2={y(ends[1].value)} />
  {#each fit.x as at, index (at)}<circle cx={x(at)} cy={y(fit.y[index])} r="3.5" />{/each}
  <text class="name" x={WIDTH} y={HEIGHT - 3} text-anchor="end">{fit.xName}</text>
  <text class="name" x={LEFT} y="10">{fit.yName}</text>
</svg>

<style>
  svg {
    width: 100%;
    margin-top: 8px;
    overflow: visible;
  }
  .rule {
    stroke: var(--rule-faint);
  }
  .axis {
    stroke: var(--rule);
  }
  .fit {
    stroke: var(--rust);
    stroke-width: 1.6;
  }
  circle {
    fill: none;
    stroke: var(--blue);
    stroke-width: 1.6;
  }
  text {
    font-size: 12px;
    fill: var(--quiet);
    font-family: var(--book);
  }
  .name {
    font-style: italic;
  }
</style>
