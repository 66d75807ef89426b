<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import type { ToldFit } from '$lib/works/projection/work';
  import ScrubNumber from '$lib/components/ScrubNumber.svelte';
  import Correlogram from '$lib/pictures/Correlogram.svelte';
  import HistogramPlot from '$lib/pictures/HistogramPlot.svelte';
  import { chanceText } from '$lib/pictures/lines';
  import NormalPlot from '$lib/pictures/NormalPlot.svelte';
  import { RowsView } from '$lib/pictures/rowsView.svelte';
  import SeriesPlot from '$lib/pictures/SeriesPlot.svelte';
  import { withLag } from './models';

  interface Props {
    fit: ToldFit;
    /** Lags that are shown, and that the Ljung-Box test takes together. */
    lags: number;
    changeLags: (lags: number) => void;
    lagText: (rows: number) => string;
    /** Adds a model. */
    put: (model: string) => void;
  }
  let { fit, lags, changeLags, lagText, put }: Props = $props();

  const residuals = $derived(fit.residuals);
  const most = $derived(residuals.acf.length - 1);
  const shown = $derived(Math.min(lags, most));
  const scale = $derived(
    Math.max(
      0.1,
      residuals.band ?? 0,
      ...[residuals.acf, residuals.pacf].flatMap((one) => one.slice(1, shown + 1).map((r) => Math.abs(r ?? 0))),
    ),
  );
  const lagsView = new RowsView();
  const seriesView = new RowsView();
  $effect(() => seriesView.show(residuals.values.length));
  /** Lags outside the band that the model can take up, the farthest out first. */
  const next = $derived(
    residuals.pacf
      .slice(0, shown + 1)
      .flatMap((r, lag) => {
        if (lag === 0 || r === null || Math.abs(r) <= (residuals.band ?? Infinity)) return [];
        const model = withLag(fit.orders, lag);
        return model === undefined ? [] : [{ lag, model, r: Math.abs(r) }];
      })
      .sort((a, b) => b.r - a.r)
      .slice(0, 4),
  );
</script>

<section aria-label="Residuals">
  <h3>Residuals</h3>
  <p class="says">{residuals.says}</p>
  <p class="quiet">
    Ljung-Box p {chanceText(residuals.chances[shown - 1] ?? null)} over
    <ScrubNumber value={shown} label="Lags of the residuals" least={1} {most} onchange={changeLags} /> lags; Jarque-Bera p
    {chanceText(residuals.jarqueBera.p)}; ARCH test p {chanceText(residuals.arch.p)}.
  </p>
  {#if next.length > 0}<p class="quiet">
      Add to the model:{#each next as { lag, model } (lag)}<Button
          look="word"
          class="ml-[0.7em]"
          title="Add {model} as a model"
          onclick={() => put(model)}>lag {lag}</Button
        >{/each}
    </p>{/if}
  <SeriesPlot label="Residuals over time" values={residuals.values} view={seriesView} heightPx={80} mean={0} />
  {#each [['autocorrelation', residuals.acf], ['partial autocorrelation', residuals.pacf]] as const as [title, values] (title)}
    <Correlogram
      title="{title} of the residuals"
      values={values.slice(0, shown + 1)}
      band={residuals.band}
      {scale}
      view={lagsView}
      {lagText}
    />
  {/each}
  <div class="two">
    <div>
      <h4>histogram</h4>
      <HistogramPlot histogram={residuals.histogram} summary={residuals.summary} />
    </div>
    <div>
      <h4>normal plot</h4>
      <NormalPlot normal={residuals.normal} summary={residuals.summary} />
    </div>
  </div>
</section>

<style>
  h3 {
    font-size: 15px;
    margin-top: 10px;
  }
  h4 {
    font-size: 12px;
    font-style: italic;
    font-weight: 400;
    color: var(--quiet);
    margin: 0;
  }
  p {
    margin: 0 0 4px;
  }
  .says {
    font-size: 15px;
  }
  .quiet {
    font-size: 13px;
    color: var(--quiet);
  }
  .two {
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(240px, 1fr));
    gap: 10px;
  }
</style>
