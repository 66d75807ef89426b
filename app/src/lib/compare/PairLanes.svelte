<script lang="ts">
  import type { PairCourse } from '@jaunty-ledger/core';
  import type { ToldComparison } from '$lib/api/comparisons';
  import type { Surface } from '$lib/chart/layers';
  import { drawLine } from '$lib/chart/lineLayer';
  import { asRange, extentOf } from '$lib/chart/extent';
  import { rowsInView } from '$lib/chart/viewWindow';
  import ScrubNumber from '$lib/components/ScrubNumber.svelte';
  import type { CalendarMark } from '$lib/pictures/calendarMarks';
  import { brief, chanceText } from '$lib/pictures/lines';
  import RowsPlot from '$lib/pictures/RowsPlot.svelte';
  import type { RowsView } from '$lib/pictures/rowsView.svelte';
  import { endsOf, type Compared } from './compareAddress';
  import LaneRow from './LaneRow.svelte';
  import StretchShades from './StretchShades.svelte';

  interface Props {
    compared: Compared;
    course: PairCourse;
    /** What holds of the pair as a whole; not there while it is worked out. */
    bonds: ToldComparison['pair'];
    /** Rows of the correlation and of the deviations, which are fewer than asked for where there are few. */
    used: { window: number; rows: number };
    names: readonly [string, string];
    view: RowsView;
    marks: readonly CalendarMark[];
    timeText: (row: number) => string;
    change: (what: Partial<Compared>, group?: string) => void;
  }
  let { compared, course, bonds, used, names, view, marks, change }: Props = $props();

  const CORRELATION_PX = 132;
  const SPREAD_PX = 150;
  const rows = $derived(course.z.length);
  const row = $derived(view.pointer ?? rowsInView(view.window, rows)[1] - 1);
  const ends = $derived(endsOf(compared));
  const isLow = $derived(compared.partedBy === 'correlation');
  const figure = (value: number) => (Number.isNaN(value) ? '–' : value.toFixed(2).replace('-', '−'));
  const levels = $derived(isLow ? [-2, 2] : [-ends.begin, ends.begin]);
  const extent = $derived.by((): [number, number] => {
    const own = extentOf(asRange(course.z), ...rowsInView(view.window, rows)) ?? [0, 0];
    return [Math.min(own[0], levels[0] * 1.1), Math.max(own[1], levels[1] * 1.1)];
  });
  const beta = $derived(typeof course.beta === 'number' ? course.beta : course.beta[row]);
  const halfLife = $derived(course.halfLife.rows);
  const p = $derived(bonds?.cointegration.p ?? null);

  const drawCorrelation = (surface: Surface) =>
    drawLine(surface, course.correlation, { colour: 'var(--ink-2)', widthPx: 1.4 });
  const drawSpread = (surface: Surface) => drawLine(surface, course.z, { colour: 'var(--ink)', widthPx: 1.3 });
</script>

{#snippet grid(x: (row: number) => number, widthPx: number, heightPx: number)}
  <StretchShades stretches={course.stretches} {rows} {x} {widthPx} {heightPx} />
  {#each marks as { at } (at)}<line class="mark" x1={x(at)} x2={x(at)} y1="0" y2={heightPx} />{/each}
{/snippet}

<LaneRow label="Correlation of the pair">
  {#snippet margin()}
    <p class="head"><strong>{names[0]} with {names[1]}</strong> <span>{figure(course.correlation[row])}</span></p>
    <p class="formula">correlation({compared.of}, {used.window} bars)</p>
    <p class="quiet">usual {figure(course.usual)}</p>
  {/snippet}
  <RowsPlot
    label="Rolling correlation of {names[0]} with {names[1]}"
    {view}
    heightPx={CORRELATION_PX}
    extent={[-1.02, 1.02]}
    draw={drawCorrelation}
  >
    {#snippet under(x, y, widthPx)}
      {@render grid(x, widthPx, CORRELATION_PX)}
      <line class="zero" x1="0" x2={widthPx} y1={y(0)} y2={y(0)} />
      {#if isLow}{#each [ends.begin, ends.end] as level (level)}<line
            class="level"
            x1="0"
            x2={widthPx}
            y1={y(level)}
            y2={y(level)}
          />{/each}{/if}
      {#if !Number.isNaN(course.usual)}
        <line class="usual" x1="0" x2={widthPx} y1={y(course.usual)} y2={y(course.usual)} />
      {/if}
    {/snippet}
  </RowsPlot>
</LaneRow>
<LaneRow label="Spread of the pair">
  {#snippet margin()}
    <p class="head">
      <strong>{compared.by === 'ratio' ? 'ratio' : 'spread'}, in deviations</strong>
      <span>{figure(course.z[row])}</span>
    </p>
    <p class="formula">
      {compared.by === 'ratio' ? `${names[0]} / ${names[1]}` : `ln ${names[0]} − ${brief(beta)} ln ${names[1]}`}
    </p>
    <p class="quiet">
      as <select
        class="word"
        aria-label="How the two are put into one"
        value={compared.by}
        onchange={(event) => change({ by: event.currentTarget.value as Compared['by'] })}
      >
        <option value="spread">a spread</option>
        <option value="ratio">a ratio</option>
      </select>{#if compared.by === 'spread'}, with
        <input
          class="word"
          aria-label="How far the one goes with the other"
          title="A number, `all`, or `60 rows` for least squares over the last 60"
          value={compared.beta}
          onchange={(event) => change({ beta: event.currentTarget.value.trim() })}
        />{/if}; deviations over
      <ScrubNumber
        value={used.rows}
        label="Rows that deviations are taken from"
        least={2}
        most={100_000}
        onchange={(behind) => change({ behind }, 'behind')}
      /> bars
    </p>
    <p class="quiet">
      {Number.isNaN(halfLife) ? 'it does not come back' : `half-life ${brief(halfLife)} bars`}{p === null
        ? ''
        : `; ${p < 0.05 ? 'they belong together' : 'they need not belong together'} (cointegration, p ${chanceText(p)})`}
    </p>
    {#if compared.beta === 'all'}<p class="quiet">One beta over all rows looks ahead.</p>{/if}
  {/snippet}
  <RowsPlot
    label="Spread of {names[0]} and {names[1]} in deviations"
    {view}
    heightPx={SPREAD_PX}
    {extent}
    draw={drawSpread}
  >
    {#snippet under(x, y, widthPx)}
      {@render grid(x, widthPx, SPREAD_PX)}
      <line class="zero" x1="0" x2={widthPx} y1={y(0)} y2={y(0)} />
      {#each levels as level (level)}<line class="level" x1="0" x2={widthPx} y1={y(level)} y2={y(level)} />{/each}
    {/snippet}
  </RowsPlot>
</LaneRow>

<style>
  p {
    margin: 0;
  }
  .head {
    display: flex;
    justify-content: space-between;
    gap: 8px;
    font-size: 14.5px;
  }
  .formula {
    font-size: 12.5px;
    color: var(--quiet);
  }
  .quiet input {
    field-sizing: content;
    min-width: 2ch;
    max-width: 10ch;
  }
  .mark {
    stroke: var(--rule);
  }
  .zero {
    stroke: var(--ink);
    stroke-width: 0.7;
  }
  .usual {
    stroke: var(--ink-2);
    stroke-dasharray: 2 4;
  }
  .level {
    stroke: var(--rust);
    stroke-dasharray: 3 3;
  }
</style>
