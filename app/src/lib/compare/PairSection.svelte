<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import Button from '$lib/components/Button.svelte';
  import Input from '$lib/components/Input.svelte';
  import Select from '$lib/components/Select.svelte';
  import { movePercent, normalQuantile, type ToldStretch } from '@jaunty-ledger/core';
  import { drawColumns } from '$lib/chart/columnLayer';
  import type { ToldComparison } from '$lib/works/comparison/work';
  import type { Surface } from '$lib/chart/layers';
  import { brief, chanceText, columnOf } from '$lib/pictures/lines';
  import Enlargeable from '$lib/pictures/Enlargeable.svelte';
  import RowsPlot from '$lib/pictures/RowsPlot.svelte';
  import { RowsView } from '$lib/pictures/rowsView.svelte';
  import type { Compared } from './compareAddress';
  import type { PairView } from './pairView.svelte';

  interface Props {
    compared: Compared;
    pair: PairView;
    /** What holds of the pair as a whole; not there while it is worked out. */
    bonds: ToldComparison['pair'];
    names: readonly [string, string];
    view: RowsView;
    timeText: (row: number) => string;
    change: (what: Partial<Compared>, group?: string) => void;
  }
  let { compared, pair, bonds, names, view, timeText, change }: Props = $props();

  /** Fewer that are over are too few to lean on. */
  const FEW = 10;
  /** Stretches that are listed, the longest ones. */
  const MOST_LISTED = 200;
  const { isLow, begin, end } = $derived(pair);
  const all = $derived(pair.stretches);
  const stretches = $derived([...all].sort((a, b) => b.rows - a.rows).slice(0, MOST_LISTED));
  const known = $derived(all.filter(({ cameBack }) => cameBack !== undefined));
  const back = $derived(known.filter(({ cameBack }) => cameBack).length);
  const ledBy = $derived(names.map((_, at) => all.filter(({ led }) => led === 'ab'[at]).length));
  const after = $derived(isLow ? pair.window : pair.behind);
  const farthest = ({ peak, side }: ToldStretch) =>
    (isLow || side === 'below' ? -peak : peak).toFixed(isLow ? 2 : 1).replace('-', '−');
  const cameText = ({ cameBack, end }: ToldStretch) =>
    end === undefined ? 'still apart' : cameBack === undefined ? 'not known yet' : cameBack ? 'came back' : 'went on';
  /** When it was at the mean that it had before, in bars from where the stretch began. */
  const backText = ({ backAfter }: ToldStretch) =>
    backAfter === undefined ? 'not at its mean since' : `at its mean after ${backAfter.toLocaleString('en')}`;

  /** Shows a stretch with as much on either side. */
  function show({ start, end }: ToldStretch): void {
    const last = end ?? pair.z.length - 1;
    const around = Math.max(20, last - start);
    const first = Math.max(0, start - around);
    view.window = { ...view.window, first, count: Math.min(pair.z.length, last + around) - first };
  }

  const leadsView = new RowsView();
  const leads = $derived(columnOf(bonds?.leads ?? []));
  /** Correlations that are as high as the highest, by their share of it. */
  const AS_HIGH = 0.9;
  const most = $derived(Math.max(0, (leads.length - 1) / 2));
  $effect(() => leadsView.show(leads.length));
  const band = $derived(1.96 / Math.sqrt(Math.max(1, bonds?.common ?? 1)));
  /** The band that the largest of all lags leaves by chance at 5 %. */
  const bandOfAll = $derived((band / 1.96) * normalQuantile(1 - 0.025 / Math.max(1, leads.length)));
  /** Correlations fill the plot, however small they are. */
  const extent = $derived(1.15 * Math.max(0.1, bandOfAll, ...Array.from(leads, (r) => Math.abs(r) || 0)));
  const best = $derived(leads.reduce((at, value, place) => (Math.abs(value) > Math.abs(leads[at]) ? place : at), 0));
  const drawLeads = (surface: Surface) => drawColumns(surface, leads, { colour: 'var(--blue)' });
  const leadText = $derived.by(() => {
    if (!bonds) return 'Computing…';
    if (leads.length === 0 || Number.isNaN(leads[best])) return 'Neither has enough that moves.';
    if (Math.abs(leads[best]) < bandOfAll)
      return `No lag stands out: the highest of ${leads.length}, ${brief(leads[best])} at ${best - most}, is within chance (${brief(bandOfAll)}).`;
    const k = best - most;
    if (k === 0 || Math.abs(leads[most]) >= AS_HIGH * Math.abs(leads[best]))
      return `They move together in the same bar: ${brief(leads[most])}.`;
    // a common season has peaks at several lags, which is no lead
    const other = leads.findIndex((r, at) => Math.abs(at - best) > 1 && Math.abs(r) >= AS_HIGH * Math.abs(leads[best]));
    if (other >= 0)
      return `As high at ${k} and ${other - most} bars (${brief(leads[best])}, ${brief(leads[other])}): a common cycle, not a lead.`;
    const [first, rows] = [names[k > 0 ? 0 : 1], Math.abs(k)];
    return `${first} leads by ${rows} ${rows === 1 ? 'bar' : 'bars'}: ${brief(leads[best])}.`;
  });
  const test = $derived(bonds?.cointegration);
  const halfLife = $derived(pair.spread!.halfLife.rows);
</script>

<h2>Divergences <span>{names[0]} with {names[1]}</span></h2>
<p class="quiet">
  where the
  <Select
    look="word"
    aria-label="What divergences are measured by"
    value={compared.partedBy}
    onchange={(event) =>
      change({ partedBy: event.currentTarget.value as Compared['partedBy'], begin: null, end: null })}
  >
    <option value="correlation">correlation is low</option>
    <option value="deviations">spread is far off</option>
  </Select>
  : from
  <Input
    look="word"
    type="number"
    step="0.1"
    aria-label="Where a divergence begins"
    value={begin}
    onchange={(event) => change({ begin: Number(event.currentTarget.value) })}
  />
  {isLow ? 'or below' : 'deviations'} to
  <Input
    look="word"
    type="number"
    step="0.1"
    aria-label="Where a divergence ends"
    value={end}
    onchange={(event) => change({ end: Number(event.currentTarget.value) })}
  />
</p>
{#if pair.problem}<p class="wrong" role="alert">{pair.problem}</p>
{:else if stretches.length === 0}<p class="quiet">
    {isLow && !(pair.correlation!.usual >= end)
      ? 'They were hardly correlated, so there is no divergence.'
      : 'No divergences so far.'}
  </p>
{:else}
  <div class="list">
    <Table look="listing" class="w-full text-[13px]">
      <thead
        ><tr
          ><th scope="col">from, to</th><th scope="col" class="figure">bars</th><th scope="col" class="figure"
            >{isLow ? 'lowest' : 'farthest'}</th
          ><th scope="col" class="figure">moves</th><th scope="col">{after} bars after</th></tr
        ></thead
      >
      <tbody>
        {#each stretches as stretch (stretch.start)}
          <tr>
            <td
              ><Button class="text-[13px]" title="Show it" onclick={() => show(stretch)}
                >{timeText(stretch.start)},<br />{stretch.end === undefined ? 'now' : timeText(stretch.end)}</Button
              ></td
            >
            <td class="figure">{stretch.rows.toLocaleString('en')}</td>
            <td class="figure">{farthest(stretch)}</td>
            <td
              class="figure"
              title="Of {names[0]} and of {names[1]}, from {after} bars before to where they were farthest apart"
              >{movePercent(stretch.movedA)}<br />{movePercent(stretch.movedB)}</td
            >
            <td>{cameText(stretch)}<br /><span class="quiet">{backText(stretch)}</span></td>
          </tr>
        {/each}
      </tbody>
    </Table>
  </div>
  {#if all.length > stretches.length}<p class="quiet">
      The {stretches.length} longest of {all.length.toLocaleString('en')}.
    </p>{/if}
  <p class="quiet">
    {known.length === 0
      ? 'The outcome is not known yet.'
      : `Reverted in ${back} of ${known.length}${known.length < FEW ? '; too few to rely on' : ''}.`}
    {ledBy[0] === ledBy[1]
      ? 'Neither moved more.'
      : `${names[ledBy[0] > ledBy[1] ? 0 : 1]} moved more in ${Math.max(...ledBy)} of ${all.length.toLocaleString('en')}.`}
    No later data are used for where one begins or ends.
  </p>
{/if}

<h2>Lead and lag</h2>
<p class="quiet">{leadText}</p>
{#if leads.length > 1}
  <Enlargeable label="lead and lag">
    <RowsPlot
      label="Correlation of returns by how many bars {names[0]} leads"
      view={leadsView}
      heightPx={96}
      footPx={16}
      extent={[-extent, extent]}
      draw={drawLeads}
    >
      {#snippet under(_x, y, widthPx)}<rect
          class="band"
          width={widthPx}
          y={y(band)}
          height={y(-band) - y(band)}
        />{/snippet}
      {#snippet over(x, y, widthPx, heightPx)}
        <line class="zero" x1="0" x2={widthPx} y1={y(0)} y2={y(0)} />
        {#each [-most, 0, most] as k (k)}<text
            x={Math.min(widthPx - 12, Math.max(12, x(k + most)))}
            y={heightPx - 3}
            text-anchor="middle">{String(k).replace('-', '−')}</text
          >{/each}
      {/snippet}
    </RowsPlot>
    <p class="quiet">
      {#if leadsView.pointer !== undefined}{names[0]}
        {leadsView.pointer - most} bars ahead: {brief(leads[leadsView.pointer])}{:else}right: {names[0]} leads; left: {names[1]}
        leads; shaded: 95 % band of one lag{/if}
    </p>
  </Enlargeable>
{/if}

{#if test && !pair.isWithoutSpread}<details>
    <summary>Cointegrated? {test.p === null ? 'Too few values' : test.p < 0.05 ? 'Yes' : 'Not shown'}.</summary>
    <p class="quiet">
      ln {names[0]} = {brief(test.constant)} + {brief(test.beta)} ln {names[1]}, and what that leaves is tested for
      coming back (Engle and Granger): tau {brief(test.tau)}, p {chanceText(test.p)}, {test.lags ?? 'no'} lags, {test.rows ??
        'no'}
      rows; below {brief(test.critical.five)} at 5 %. Half of a distance is gone after {Number.isNaN(halfLife)
        ? 'no time that can be told'
        : `${brief(halfLife)} bars`}. It says nothing about what comes.
    </p>
  </details>{/if}

<style>
  .wrong {
    margin: 2px 0;
    font-size: 13px;
    color: var(--wrong);
  }
  h2 span {
    font-weight: 400;
    color: var(--quiet);
  }
  .list {
    max-height: 300px;
    overflow-y: auto;
  }
  th {
    font-weight: 400;
    font-style: italic;
    color: var(--quiet);
    text-align: left;
    position: sticky;
    top: 0;
    background: var(--paper);
  }
  td,
  th {
    padding: 2px 8px 2px 0;
    vertical-align: top;
  }
  tbody tr {
    border-top: 1px solid var(--rule-faint);
  }
  .figure {
    text-align: right;
    white-space: nowrap;
  }
  .band {
    fill: var(--paper-raised);
  }
  .zero {
    stroke: var(--ink);
  }
  text {
    font-size: 12px;
    fill: var(--quiet);
  }
  summary {
    font-size: 14px;
    font-weight: 600;
    margin-top: 8px;
  }
</style>
