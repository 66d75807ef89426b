<script lang="ts">
  import type { ToldStretch } from '@jaunty-ledger/core';

  interface Props {
    stretches: readonly ToldStretch[];
    /** Rows that there are, for a stretch that is still open. */
    rows: number;
    x: (row: number) => number;
    widthPx: number;
    heightPx: number;
  }
  /** Parted stretches, shaded over the height of a plot. */
  let { stretches, rows, x, widthPx, heightPx }: Props = $props();
</script>

{#each stretches as { start, end } (start)}
  {@const [from, to] = [Math.max(0, x(start)), Math.min(widthPx, x(end ?? rows - 1))]}
  {#if to >= 0 && from <= widthPx}<rect x={from} width={Math.max(1.5, to - from)} height={heightPx} />{/if}
{/each}

<style>
  rect {
    fill: var(--span);
    opacity: 0.75;
  }
</style>
