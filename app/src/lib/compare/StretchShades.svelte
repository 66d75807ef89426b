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

  // one path: of very many rows there may be thousands
  const d = $derived(
    stretches
      .map(({ start, end }) => [Math.max(0, x(start)), Math.min(widthPx, x(end ?? rows - 1))] as const)
      .filter(([from, to]) => to >= 0 && from <= widthPx)
      .map(
        ([from, to]) => `M${from.toFixed(1)} 0h${Math.max(1.5, to - from).toFixed(1)}v${heightPx}H${from.toFixed(1)}Z`,
      )
      .join(''),
  );
</script>

<path {d} />

<style>
  path {
    fill: var(--span);
    opacity: 0.75;
  }
</style>
