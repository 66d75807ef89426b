<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import { line } from 'd3-shape';
  import type { DrawnColumn } from '$lib/compute/protocol';

  interface Props {
    close: Float64Array;
    columns: readonly DrawnColumn[];
    /** Bars that the columns stand later, on bars to come. */
    ahead: number;
    name: string;
  }
  let { close, columns, ahead, name }: Props = $props();

  const WIDTH = 300;
  const HALF = 52;
  /** The last rows: what a picture this wide can show. */
  const ROWS = 220;

  const pathOf = (all: Float64Array, domain: [number, number], top: number, later = 0): string => {
    const values = all.slice(-ROWS);
    const x = scaleLinear([0, values.length - 1 + ahead], [1, WIDTH - 1]);
    const y = scaleLinear(domain, [top + HALF - 3, top + 3]);
    const path = line<number>()
      .defined((_, index) => !Number.isNaN(values[index]))
      .x((_, index) => x(index + later))
      .y((value) => y(value));
    return path(Array.from(values)) ?? '';
  };

  function domainOf(lists: readonly Float64Array[]): [number, number] {
    let [low, high] = [Infinity, -Infinity];
    for (const list of lists)
      for (const value of list.slice(-ROWS)) {
        if (value < low) low = value;
        if (value > high) high = value;
      }
    return low < high ? [low, high] : low === high ? [low - 1, high + 1] : [0, 1];
  }

  const domain = $derived(domainOf(columns.map(({ values }) => values)));
</script>

<svg viewBox="0 0 {WIDTH} {2 * HALF + 4}" role="img" aria-label="The close, and {name} of it below">
  <path class="close" d={pathOf(close, domainOf([close]), 0)} />
  <line x1="0" x2={WIDTH} y1={HALF + 2} y2={HALF + 2} />
  {#each columns as { name: label, values }, index (label)}
    <path class="own" class:other={index > 0} d={pathOf(values, domain, HALF + 4, ahead)} />
  {/each}
</svg>

<style>
  svg {
    width: 100%;
    max-width: 320px;
    align-self: start;
  }
  path {
    fill: none;
    stroke-width: 1.3;
  }
  .close {
    stroke: var(--quiet);
  }
  .own {
    stroke: var(--blue);
  }
  .other {
    stroke: var(--rust);
    stroke-dasharray: 4 2;
  }
  line {
    stroke: var(--rule-faint);
  }
</style>
