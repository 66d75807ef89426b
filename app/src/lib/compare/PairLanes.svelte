<script lang="ts">
  import Input from '$lib/components/Input.svelte';
  import Select from '$lib/components/Select.svelte';
  import type { ToldComparison } from '$lib/works/comparison/work';
  import { CompareBody } from '$lib/api/pages';
  import type { Surface } from '$lib/chart/layers';
  import { drawLine } from '$lib/chart/lineLayer';
  import { asRange, extentOf } from '$lib/chart/extent';
  import { rowsInView } from '$lib/chart/viewWindow';
  import Said from '$lib/components/Said.svelte';
  import ScrubNumber from '$lib/components/ScrubNumber.svelte';
  import type { CalendarMark } from '$lib/pictures/calendarMarks';
  import { brief, chanceText } from '$lib/pictures/lines';
  import RowsPlot from '$lib/pictures/RowsPlot.svelte';
  import type { RowsView } from '$lib/pictures/rowsView.svelte';
  import type { Compared } from './compareAddress';
  import type { PairView } from './pairView.svelte';
  import LaneRow from './LaneRow.svelte';
  import StretchShades from './StretchShades.svelte';

  interface Props {
    compared: Compared;
    pair: PairView;
    /** What holds of the pair as a whole; not there while it is worked out. */
    bonds: ToldComparison['pair'];
    names: readonly [string, string];
    view: RowsView;
    marks: readonly CalendarMark[];
    change: (what: Partial<Compared>, group?: string) => void;
  }
  let { compared, pair, bonds, names, view, marks, change }: Props = $props();

  const CORRELATION_PX = 132;
  const SPREAD_PX = 150;
  const z = $derived(pair.z);
  const correlation = $derived(pair.correlation!);
  const spread = $derived(pair.spread!);
  const rows = $derived(z.length);
  const row = $derived(view.pointer ?? rowsInView(view.window, rows)[1] - 1);
  const { isLow, begin, end } = $derived(pair);
  const figure = (value: number) => (Number.isNaN(value) ? '–' : value.toFixed(2).replace('-', '−'));
  const levels = $derived(isLow ? [-2, 2] : [-begin, begin]);
  const extent = $derived.by((): [number, number] => {
    const own = extentOf(asRange(z), ...rowsInView(view.window, rows)) ?? [0, 0];
    return [Math.min(own[0], levels[0] * 1.1), Math.max(own[1], levels[1] * 1.1)];
  });
  const beta = $derived(typeof spread.beta === 'number' ? spread.beta : spread.beta[row]);
  const halfLife = $derived(spread.halfLife.rows);
  const p = $derived(bonds?.cointegration.p ?? null);

  let problem = $state('');
  function writeBeta(field: HTMLInputElement): void {
    const read = CompareBody.shape.beta.safeParse(field.value.trim());
    problem = read.success ? '' : `\`${field.value}\` is neither a number, nor \`all\`, nor such as \`60 rows\`.`;
    if (read.success) change({ beta: read.data });
  }

  const drawCorrelation = (surface: Surface) =>
    drawLine(surface, correlation.values, { colour: 'var(--ink-2)', widthPx: 1.4 });
  const drawSpread = (surface: Surface) => drawLine(surface, z, { colour: 'var(--ink)', widthPx: 1.3 });
</script>

{#snippet grid(x: (row: number) => number, widthPx: number, heightPx: number)}
  <StretchShades stretches={pair.stretches} {rows} {x} {widthPx} {heightPx} />
  {#each marks as { at } (at)}<line class="mark" x1={x(at)} x2={x(at)} y1="0" y2={heightPx} />{/each}
{/snippet}

<LaneRow label="Correlation of the pair">
  {#snippet margin()}
    <p class="head"><strong>{names[0]} with {names[1]}</strong> <span>{figure(correlation.values[row])}</span></p>
    <p class="formula">correlation({compared.of}, {pair.window} bars)</p>
    <p class="quiet">average {figure(correlation.usual)}</p>
  {/snippet}
  <RowsPlot
    label="Rolling correlation of {names[0]} with {names[1]}"
    {view}
    heightPx={CORRELATION_PX}
    extent={[-1.02, 1.02]}
    draw={drawCorrelation}
  >
    {#snippet under(x, y, widthPx, heightPx)}
      {@render grid(x, widthPx, heightPx)}
      <line class="zero" x1="0" x2={widthPx} y1={y(0)} y2={y(0)} />
      {#if isLow}{#each [begin, end] as level, at (at)}<line
            class="level"
            x1="0"
            x2={widthPx}
            y1={y(level)}
            y2={y(level)}
          />{/each}{/if}
      {#if !Number.isNaN(correlation.usual)}
        <line class="usual" x1="0" x2={widthPx} y1={y(correlation.usual)} y2={y(correlation.usual)} />
      {/if}
    {/snippet}
  </RowsPlot>
</LaneRow>
<LaneRow label="Spread of the pair">
  {#snippet margin()}
    <p class="head">
      <strong>{compared.by === 'ratio' ? 'ratio' : 'spread'}, in deviations</strong>
      <span>{figure(z[row])}</span>
    </p>
    <p class="formula">
      {compared.by === 'ratio' ? `${names[0]} / ${names[1]}` : `ln ${names[0]} − ${brief(beta)} ln ${names[1]}`}
    </p>
    <p class="quiet">
      as <Select
        look="word"
        aria-label="Spread or ratio"
        value={compared.by}
        onchange={(event) => change({ by: event.currentTarget.value as Compared['by'] })}
      >
        <option value="spread">a spread</option>
        <option value="ratio">a ratio</option>
      </Select>{#if compared.by === 'spread'}, with
        <Input
          look="word"
          aria-label="Hedge ratio"
          title="A number, `all`, or `60 rows` for least squares over the last 60"
          value={compared.beta}
          onchange={(event) => writeBeta(event.currentTarget)}
        />{/if}; deviations over
      <ScrubNumber
        value={pair.behind}
        label="Rows of the deviations"
        least={2}
        most={100_000}
        onchange={(behind) => change({ behind }, 'behind')}
      /> bars
    </p>
    <p class="quiet">
      {#if pair.isWithoutSpread}
        {compared.by === 'ratio' ? 'Ratios' : 'Logarithms'} need values above 0.
      {:else}
        {Number.isNaN(halfLife) ? 'no mean reversion' : `half-life ${brief(halfLife)} bars`}{p === null
          ? ''
          : `; ${p < 0.05 ? 'cointegrated' : 'not shown to be cointegrated'} (p ${chanceText(p)})`}
      {/if}
    </p>
    {#if problem}<p class="wrong" role="alert"><Said text={problem} /></p>{/if}
    {#if compared.beta === 'all'}<p class="quiet">One beta over all rows looks ahead.</p>{/if}
  {/snippet}
  <RowsPlot
    label="Spread of {names[0]} and {names[1]} in deviations"
    {view}
    heightPx={SPREAD_PX}
    {extent}
    draw={drawSpread}
  >
    {#snippet under(x, y, widthPx, heightPx)}
      {@render grid(x, widthPx, heightPx)}
      <line class="zero" x1="0" x2={widthPx} y1={y(0)} y2={y(0)} />
      {#each levels as level, at (at)}<line class="level" x1="0" x2={widthPx} y1={y(level)} y2={y(level)} />{/each}
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
  .wrong {
    font-size: 13px;
    color: var(--wrong);
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
