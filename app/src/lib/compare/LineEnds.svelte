<script lang="ts">
  import { untrack } from 'svelte';
  import type { RowsView } from '$lib/pictures/rowsView.svelte';
  import { shortNames } from './shortNames';
  import { spreadOut } from './standing';

  interface Props {
    /** Names of lines, and their last figures as text, with the pixels of each end. */
    ends: readonly { name: string; figure: string; ink: string; y: number; isAverage: boolean }[];
    view: RowsView;
    widthPx: number;
    /** The lowest that a name may stand. */
    bottomPx: number;
  }
  let { ends, view, widthPx, bottomPx }: Props = $props();

  const MOST_CHARACTERS = 11;
  const CHARACTER_PX = 6.8;
  const LINE_PX = 14;
  /** Narrower plots have no room for names behind the ends of their lines: these stand on them. */
  const LEAST_PLOT_PX = 380;
  const isNarrow = $derived(widthPx + view.endPx < LEAST_PLOT_PX);
  // the margin has the names in full
  const short = $derived(
    shortNames(
      ends.map(({ name }) => name),
      MOST_CHARACTERS,
    ),
  );
  const places = $derived(
    spreadOut(
      ends.map(({ y }) => y + 4),
      LINE_PX,
      bottomPx,
    ),
  );
  $effect(() => {
    const most = Math.max(0, ...ends.map(({ figure }, at) => `${short[at]} ${figure}`.length));
    // with room to spare, so that plots do not change their width for each figure
    const endPx = most === 0 || isNarrow ? 0 : 24 * Math.ceil((12 + CHARACTER_PX * most) / 24);
    untrack(() => (view.endPx = endPx));
  });
</script>

{#each ends as { ink, figure, isAverage }, at (at)}
  <text
    class="end"
    class:strong={isAverage}
    x={isNarrow ? widthPx - 6 : widthPx + 6}
    y={places[at]}
    text-anchor={isNarrow ? 'end' : 'start'}
    fill={ink}>{short[at]} {figure}</text
  >
{/each}

<style>
  text {
    font-size: 12.5px;
    paint-order: stroke;
    stroke: var(--paper);
    stroke-width: 4px;
  }
  .strong {
    font-weight: 600;
  }
</style>
