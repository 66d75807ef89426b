<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import Button from '$lib/components/Button.svelte';
  import { movePercent } from '@jaunty-ledger/core';
  import type { ToldModel } from '$lib/works/projection/work';
  import { brief } from '$lib/pictures/lines';
  import ResidualsSection from './ResidualsSection.svelte';
  import { answerOf, type Backtest } from './backtests.svelte';

  interface Props {
    told: ToldModel;
    backtest: Backtest | undefined;
    /** Values that the model has seen. */
    seen: number;
    horizon: number;
    /** The last value that is seen. */
    last: number | null;
    /** The time of the farthest row ahead, where the calendar tells it. */
    when: string;
    figureText: (value: number | null) => string;
    lagText: (rows: number) => string;
    /** Lags of the residuals that are shown. */
    lags: number;
    changeLags: (lags: number) => void;
    /** Puts a model beside the others. */
    put: (model: string) => void;
  }
  let { told, backtest, seen, horizon, last, when, figureText, lagText, lags, changeLags, put }: Props = $props();

  const fit = $derived(told.arima ?? told.smoothing);
  const tried = $derived(answerOf(backtest));
  const isSlow = $derived(
    /^(arima|smooth)/.test(told.model) && tried !== undefined && tried.searches < Math.min(5, tried.origins),
  );
  const farthest = $derived(told.value[horizon - 1] ?? null);
  const moved = $derived(
    farthest === null || last === null || !(last > 0) ? '' : `${movePercent(farthest / last - 1)} from the last value`,
  );
  const atHorizon = $derived(tried?.ahead[horizon - 1]);
  const shareText = (share: number | null) => (share === null ? 'nothing' : share.toFixed(3));
  const percent = (share: number | null) => (share === null ? 'none' : `${Math.round(100 * share)} of 100`);
  /** Rows of an average that is carried on over its own output. */
  const averaged = $derived(Number(/^average (\d+)/.exec(told.model)?.[1] ?? NaN));
</script>

<p class="says"><strong>{told.model}</strong>: {told.phrase}.</p>
{#if told.refused}<p class="quiet">{told.refused}.</p>{:else}
  <p class="says">
    {horizon} bars ahead{when ? `, on ${when}` : ''}: <strong>{figureText(farthest)}</strong>{moved
      ? `, ${moved}`
      : ''}; 95 of 100 between
    {figureText(told.low95[horizon - 1] ?? null)} and {figureText(told.high95[horizon - 1] ?? null)}.
  </p>
  {#if told.model.endsWith('of log')}<p class="quiet">Its values are medians: a mean would lie higher.</p>{/if}
  {#if !Number.isNaN(averaged)}<p class="quiet">
      Of the {averaged} rows in its first window all were measured, of the next {averaged - 1}; from {averaged + 1} bars ahead
      on none is. It settles and loses every cycle; <code>last season …</code> repeats one.
    </p>{/if}
  {#if tried}
    <p class="says">{tried.says}</p>
    <p class="quiet">
      {tried.origins} origins, each {tried.step === 1 ? 'bar' : `${tried.step} bars`} apart, each using only earlier data.
      {isSlow
        ? `Since this model is slow, its coefficients were estimated ${tried.searches === 1 ? 'once' : `${tried.searches} times`}, not at 5 of the origins.`
        : ''}
      {#each [[`At ${horizon} bars ahead`, atHorizon], ['Over all horizons', tried.all]] as const as [where, measures] (where)}
        {#if measures}<span
            >{where}: RMSE {brief(measures.rmse)}, MAPE {measures.mape === null
              ? 'missing'
              : `${brief(100 * measures.mape)} %`}, MASE {brief(measures.mase)} (mean error over a usual change).</span
          >{/if}
      {/each}
    </p>
    <p class="says">
      The 95 % interval covered {percent(tried.all.inside95)} actual values, the 80 % interval {percent(
        tried.all.inside80,
      )}{tried.all.inside95 !== null && tried.all.inside95 < 0.92 ? ': too narrow' : ''}.
    </p>
  {:else if backtest?.state === 'failed'}<p class="quiet">The backtest failed: {backtest.reason}</p>
  {:else if backtest?.state !== 'stopped'}<p class="quiet">Backtesting…</p>{/if}
  {#if told.garch}<p class="quiet">
      Of the variance {shareText(told.garch.a)} follows the last move and {shareText(told.garch.b)} stays: {shareText(
        told.garch.persistence,
      )} persists, and half of a shock is gone after {brief(told.garch.halfLife)} rows. It forecasts the width of the intervals,
      not the value.
    </p>{/if}
  {#if fit}
    {@const { candidates, coefficients, orders, count, aic, aicc, bic, logLikelihood } = fit}
    <ResidualsSection {fit} {lags} {changeLags} {lagText} {put} />
    <p class="quiet">
      {told.smoothing ? 'Weights and start values' : 'Coefficients'} are taken as known, so true intervals are a little wider.
    </p>
    <details>
      <summary>fit: {orders}</summary>
      <Table look="reckoning">
        <tbody>
          {#each coefficients as { name, value, error } (name)}<tr
              ><th scope="row">{name}</th><td>{brief(value)}</td><td>{error === null ? '' : `± ${brief(error)}`}</td
              ></tr
            >{/each}
          {#each [[told.smoothing ? 'values' : 'values after differencing', count], ['log likelihood', logLikelihood], ['AIC', aic], ['AICc', aicc], ['BIC', bic]] as const as [name, value] (name)}<tr
              ><th scope="row">{name}</th><td>{value === null ? 'missing' : Number(value.toPrecision(7))}</td><td
              ></td></tr
            >{/each}
        </tbody>
      </Table>
      <p class="quiet">
        This is how well it fits the {seen.toLocaleString('en')} values that it was made from, not how well it projects.
      </p>
    </details>
    {#if candidates}<details>
        <summary>{candidates.length} candidates, the best first</summary>
        <Table look="listing">
          <thead
            ><tr
              ><th scope="col">{told.smoothing ? 'kind' : 'orders'}</th>{#each ['AICc', 'AIC', 'BIC'] as name (name)}<th
                  scope="col"
                  class="figure">{name}</th
                >{/each}<th scope="col"></th></tr
            ></thead
          >
          <tbody>
            {#each candidates as { orders: name, aicc: own, aic: other, bic: third, passedOver } (name)}<tr
                ><th scope="row"><Button title="Add it as a model" onclick={() => put(name)}>{name}</Button></th
                >{#each [own, other, third] as value, at (at)}<td class="figure"
                    >{value === null ? '' : value.toFixed(2)}</td
                  >{/each}<td>{passedOver}</td></tr
              >{/each}
          </tbody>
        </Table>
        <p class="quiet">
          {told.smoothing
            ? 'Criteria of an ARIMA that takes differences cannot be compared with these.'
            : 'All have the same differences: criteria of other ones cannot be compared.'} A difference below 2 is none. Press
          a candidate to add it as a model.
        </p>
      </details>{/if}
  {/if}
{/if}

<style>
  p {
    margin: 0 0 4px;
  }
  .quiet span {
    margin-right: 0.3em;
  }
  .says {
    font-size: 15px;
    margin-top: 6px;
  }
  .quiet,
  details {
    font-size: 13px;
    color: var(--quiet);
  }
  summary {
    cursor: pointer;
    color: var(--blue);
    width: max-content;
    max-width: 100%;
  }
</style>
