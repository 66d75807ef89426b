<script lang="ts">
  import Frame from './Frame.svelte';
  import { brief, type Figures } from './lines';

  interface Props {
    title: string;
    /** From lag 0, which is not drawn. */
    values: Figures;
    band: number | null;
    /** The greatest size that is drawn, where pictures share a scale. */
    scale: number;
    pointer: number | undefined;
    onpoint: (lag: number | undefined) => void;
    /** How far back a lag is, in time, where that is known. */
    lagText: (lag: number) => string;
  }
  let { title, values, band, scale, pointer, onpoint, lagText }: Props = $props();

  const lags = $derived(values.length - 1);
  const step = $derived([1, 2, 3, 6, 12, 24, 60, 120].find((one) => lags / one <= 6) ?? 120);
  const isOut = (value: number | null) => value !== null && band !== null && Math.abs(value) > band;
  const outside = $derived(
    values
      .map((value, lag) => ({ value, lag }))
      .filter(({ value, lag }) => lag > 0 && isOut(value))
      .sort((a, b) => Math.abs(b.value!) - Math.abs(a.value!)),
  );
  const x = (lag: number, widthPx: number) => ((lag - 0.5) / lags) * widthPx;
</script>

<div class="correlogram">
  <h3>{title}</h3>
  <Frame label="{title}, {lags} lags" heightPx={110} extent={[-scale, scale]}>
    {#snippet children(widthPx, y)}
      {#if band !== null}<rect class="band" width={widthPx} y={y(band)} height={y(-band) - y(band)} />{/if}
      <line class="zero" x1="0" x2={widthPx} y1={y(0)} y2={y(0)} />
      {#each values as value, lag (lag)}
        {#if lag > 0 && value !== null}
          <rect
            class:out={isOut(value)}
            class:here={lag === pointer}
            x={x(lag, widthPx) - Math.max(1, (widthPx / lags) * 0.3)}
            width={Math.max(1.5, (widthPx / lags) * 0.6)}
            y={Math.min(y(0), y(value))}
            height={Math.max(1, Math.abs(y(value) - y(0)))}
          />
        {/if}
      {/each}
      <rect
        width={widthPx}
        height="110"
        class="hit"
        role="presentation"
        onpointermove={(event) => {
          const { left } = event.currentTarget.getBoundingClientRect();
          onpoint(Math.min(lags, Math.max(1, Math.ceil(((event.clientX - left) / widthPx) * lags))));
        }}
        onpointerleave={() => onpoint(undefined)}
      />
    {/snippet}
  </Frame>
  <p class="lags" aria-hidden="true">
    {#each Array.from({ length: Math.floor(lags / step) }, (_, at) => (at + 1) * step) as lag (lag)}<span
        style:left="calc((100% - 58px) * {(lag - 0.5) / lags})">{lag}</span
      >{/each}
  </p>
  <p class="says">
    {#if pointer !== undefined && pointer <= lags}
      lag <strong>{pointer}</strong> ({lagText(pointer)}): {brief(values[pointer])}
    {:else if outside.length === 0}
      Nothing stands out of the band.
    {:else}
      outside the band: {#each outside.slice(0, 6) as { lag, value }, at (lag)}{at > 0 ? ', ' : ''}<strong>{lag}</strong
        >
        ({brief(value)}){/each}{outside.length > 6 ? ` and ${outside.length - 6} more` : ''}; of {lags}, {Math.max(
        1,
        Math.round(lags / 20),
      )} would by chance
    {/if}
  </p>
</div>

<style>
  .correlogram {
    min-width: 0;
  }
  h3 {
    font-size: 13px;
    font-weight: 400;
    font-style: italic;
    color: var(--quiet);
  }
  rect {
    fill: var(--volume);
  }
  rect.band {
    fill: var(--paper-raised);
  }
  rect.out {
    fill: var(--blue);
  }
  rect.here {
    fill: var(--rust);
  }
  .zero {
    stroke: var(--ink);
  }
  .lags {
    position: relative;
    height: 15px;
    margin: 0;
    font-size: 12px;
    color: var(--quiet);
  }
  .lags span {
    position: absolute;
    transform: translateX(-50%);
  }
  .says {
    margin: 0;
    min-height: 2.8em;
    font-size: 13px;
    color: var(--quiet);
  }
  rect.hit {
    fill: transparent;
  }
</style>
