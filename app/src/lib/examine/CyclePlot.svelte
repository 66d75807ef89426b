<script lang="ts">
  import type { ToldExamination } from '$lib/works/examination/work';
  import { drawColumns } from '$lib/chart/columnLayer';
  import type { Surface } from '$lib/chart/layers';
  import { brief, chanceText } from '$lib/pictures/lines';
  import Enlargeable from '$lib/pictures/Enlargeable.svelte';
  import RowsPlot from '$lib/pictures/RowsPlot.svelte';
  import { RowsView } from '$lib/pictures/rowsView.svelte';

  interface Props {
    cycles: ToldExamination['cycles'];
    /** So many rows in time, where that is known. */
    lagText: (rows: number) => string;
    /** The longest window that the column is made by, which evens out what is shorter; nothing without one. */
    smoothedOver: number | undefined;
  }
  let { cycles, lagText, smoothedOver }: Props = $props();

  const FOOT_PX = 16;
  const view = new RowsView();
  const power = $derived(Float64Array.from(cycles.power as number[]));
  const most = $derived(power.reduce((a, b) => Math.max(a, b), 1e-300));
  /** Swings over all rows that a stretch of frequencies stands for, at its middle. */
  const swingsAt = (at: number) => at * cycles.together + (cycles.together + 1) / 2;
  const last = $derived(Math.max(2, swingsAt(power.length - 1)));
  const placeOf = (swings: number) =>
    (Math.log(swings / swingsAt(0)) / Math.log(last / swingsAt(0))) * (power.length - 1);
  /** Equal ratios of length are equally far apart. */
  const places = $derived(power.map((_, at) => (power.length > 1 ? placeOf(swingsAt(at)) : 0)));
  $effect(() => view.show(power.length, places));
  const strong = $derived(new Set(cycles.peaks.map(({ j }) => Math.floor((j - 1) / cycles.together))));
  const [weak, peaks] = $derived(
    [false, true].map((wanted) => power.map((value, at) => (strong.has(at) === wanted ? value : NaN))),
  );
  /** Lengths that are written along the foot, the longest first. */
  const lengths = $derived(
    [1, 2, 5]
      .flatMap((digit) => [0, 1, 2, 3, 4, 5, 6].map((power) => digit * 10 ** power))
      .filter((rows) => rows >= cycles.count / last && rows <= cycles.count / swingsAt(0))
      .sort((a, b) => b - a)
      .filter((_, at, all) => at % Math.ceil(all.length / 6) === 0),
  );
  const percent = (share: number | null) => (100 * (share ?? 0)).toFixed(share !== null && share < 0.1 ? 1 : 0);
  const total = $derived((cycles.peaks[0]?.power ?? 0) / (cycles.peaks[0]?.share || 1));

  function draw(surface: Surface): void {
    drawColumns(surface, weak, { colour: 'var(--volume)' });
    // peaks are few: each has its pixels beside those of its neighbours
    const { pen, y, widthPx } = surface;
    peaks.forEach((value, at) => {
      if (Number.isNaN(value)) return;
      const x = xAt(placeOf(swingsAt(at)), widthPx);
      if (x >= 0 && x <= widthPx) pen.block({ colour: 'var(--blue)' }, x - 1, y(value), 2, y(0) - y(value));
    });
  }
  /** Pixels of a place. */
  const xAt = (place: number, widthPx: number) => ((place + 0.5 - view.window.first) / view.window.count) * widthPx;
</script>

{#if power.length === 0}
  <p>At least three values are needed.</p>
{:else}
  <Enlargeable label="the cycles">
    <RowsPlot
      label="Power by frequency; the strongest periods are listed below"
      {view}
      heightPx={126}
      footPx={FOOT_PX}
      extent={[0, most]}
      fromZero
      {draw}
    >
      {#snippet over(_x, _y, widthPx, heightPx)}
        {#each lengths as rows (rows)}
          {@const x = xAt(placeOf(cycles.count / rows), widthPx)}
          {#if x >= 0 && x <= widthPx}<text
              x={Math.max(x, rows.toLocaleString('en').length * 3.5)}
              y={heightPx - 3}
              text-anchor="middle">{rows.toLocaleString('en')}</text
            >{/if}
        {/each}
        <text x={widthPx + 6} y={heightPx - 3}>rows</text>
      {/snippet}
    </RowsPlot>
    <p class="says">
      {#if view.pointer !== undefined && power[view.pointer] !== undefined}
        {@const period = cycles.count / swingsAt(view.pointer)}
        {brief(period)} rows, {lagText(period)}: {percent(power[view.pointer] / total)} % of all swings
      {/if}
    </p>
  </Enlargeable>
  <ol>
    {#each cycles.peaks as { j, period, share, p } (j)}
      <li>
        <strong>{brief(period)} rows</strong>
        {lagText(period ?? 0)}: {percent(share)} % of all swings, p {chanceText(p)}
      </li>
    {/each}
  </ol>
  {#if smoothedOver !== undefined}<p class="says">
      The formula looks back over {smoothedOver.toLocaleString('en')} rows: cycles up to that length are smoothed away and
      not shown.
    </p>{/if}
{/if}

<style>
  text {
    font-size: 12px;
    fill: var(--quiet);
  }
  ol {
    margin: 0;
    padding: 0;
    list-style: none;
    font-size: 13px;
    color: var(--quiet);
  }
  strong {
    color: var(--ink);
  }
  .says {
    margin: 0;
    min-height: 1.4em;
    font-size: 13px;
    color: var(--quiet);
  }
</style>
