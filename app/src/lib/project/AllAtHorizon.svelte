<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import { quantileOf } from '@jaunty-ledger/core';
  import { scaleLinear } from 'd3-scale';
  import type { ToldProjections } from '$lib/works/projection/work';
  import { inks, merged } from './models';

  interface Props {
    told: ToldProjections;
    horizon: number;
    figureText: (value: number | null) => string;
  }
  let { told, horizon, figureText }: Props = $props();

  const ROW_PX = 18;
  const SHARE_DIGITS = 6;
  /** Of a character of the names and figures. */
  const CHARACTER_PX = 6.6;
  /** Between names, points and figures. */
  const GAP_PX = 10;
  /** The names have at most this share of the width, the points the rest. */
  const NAME_SHARE = 0.45;
  let wholePx = $state(0);
  /** The models by themselves; with a driver also every share of every driver. */
  const found = $derived.by(() => {
    const { shares, models } = told;
    const all =
      shares?.outcomes ?? models.map(({ model, value }) => ({ model, driver: undefined, value: value[horizon - 1] }));
    return all.flatMap(({ model, driver, value }) =>
      value === null || value === undefined
        ? []
        : [{ name: driver === undefined ? model : `${model} × ${driver}`, ink: inkOf(model), driver, value }],
    );
  });
  const products = $derived(told.shares?.outcomes.filter(({ factors }) => factors !== undefined) ?? []);
  /** Enough digits that share × driver, as shown, is the product as shown. */
  const shareText = (share: number | null) =>
    share === null ? 'missing' : String(Number(share.toPrecision(SHARE_DIGITS)));
  const inkOf = (model: string) => inks(told.models.findIndex((one) => one.model === model));
  const rows = $derived(told.shares ? merged(found) : found.map((one) => ({ ...one, names: [one.name] })));
  const sorted = $derived(Float64Array.from(found, ({ value }) => value).sort());
  const spread = $derived(
    sorted.length > 0 ? sorted[sorted.length - 1] - sorted[0] || Math.abs(sorted[0]) * 0.01 || 1 : 1,
  );
  const longest = (texts: readonly string[]) => Math.max(0, ...texts.map(({ length }) => length));
  const nameOf = ({ names }: { names: readonly string[] }) =>
    `${names[0]}${names.length > 1 ? `, +${names.length - 1}` : ''}`;
  const namePx = $derived(Math.min(NAME_SHARE * wholePx, CHARACTER_PX * longest(rows.map(nameOf))));
  const figurePx = $derived(CHARACTER_PX * longest(rows.map(({ value }) => figureText(value))));
  const mostCharacters = $derived(Math.floor(namePx / CHARACTER_PX));
  const cut = (name: string) => (name.length > mostCharacters ? `${name.slice(0, mostCharacters - 1)}…` : name);
  const x = $derived(
    scaleLinear(
      [(sorted[0] ?? 0) - 0.06 * spread, (sorted[sorted.length - 1] ?? 1) + 0.06 * spread],
      [namePx + GAP_PX, Math.max(namePx + 2 * GAP_PX, wholePx - figurePx - GAP_PX)],
    ),
  );
  const middle = $derived(quantileOf(sorted, 0.5));
  const height = $derived(rows.length * ROW_PX + 12);
</script>

<div bind:clientWidth={wholePx}>
  {#if rows.length > 0 && wholePx > 0}
    <svg
      width={wholePx}
      {height}
      role="img"
      aria-label="Forecasts of all models {horizon} bars ahead, with their median and quartiles"
    >
      {#if found.length > 3}
        {@const [low, high] = [0.25, 0.75].map((p) => x(quantileOf(sorted, p)))}
        <rect x={low} width={Math.max(1, high - low)} y="0" height={height - 8} />
        <line x1={x(middle)} x2={x(middle)} y1="0" y2={height - 8} />
      {/if}
      {#each rows as { names, ink, driver, value }, row (names[0])}
        <text x="0" y={row * ROW_PX + 14}>{cut(nameOf({ names }))}<title>{names.join(', ')}</title></text>
        <circle
          cx={x(value)}
          cy={row * ROW_PX + 10}
          r="3.5"
          fill={driver === undefined ? ink : 'var(--paper)'}
          stroke={ink}
          stroke-width="1.5"
        />
        <text x={wholePx} y={row * ROW_PX + 14} text-anchor="end">{figureText(value)}</text>
      {/each}
    </svg>
    {#if found.length > 3}<p>
        Half of {told.shares ? `the ${found.length} outcomes` : 'them'} lie between {figureText(
          quantileOf(sorted, 0.25),
        )} and {figureText(quantileOf(sorted, 0.75))}{rows.length < found.length
          ? `; ${found.length - rows.length} equal to another`
          : ''}.
      </p>{/if}
    {#if told.shares}
      <p>
        Full points go by themselves; hollow ones are a share of {told.shares.driver}: the share by the first model, the
        driver by the second. {told.shares.rows.toLocaleString('en')} rows have both.
      </p>
      <ul aria-label="The share itself">
        {#each told.shares.shares as { model, refused, forecast, value, low95, high95 } (model)}
          <li>
            <strong>{model}</strong>: {#if refused}{refused}{:else}{forecast === null
                ? ''
                : `the share is forecast as ${shareText(forecast)}; `}the ratio of both forecasts is {shareText(
                value,
              )}{low95 === null ? '' : `, 95 of 100 draws between ${shareText(low95)} and ${shareText(high95)}`}{/if}
          </li>
        {/each}
      </ul>
      <details>
        <summary>{products.length} products of share and driver</summary>
        <Table look="listing">
          <thead
            ><tr
              ><th scope="col">share by</th><th scope="col" class="figure">share</th><th scope="col">driver by</th><th
                scope="col"
                class="figure">driver</th
              ><th scope="col" class="figure">product</th></tr
            ></thead
          >
          <tbody>
            {#each products as { model, driver, value, factors } (`${model} × ${driver}`)}<tr
                ><td>{model}</td><td class="figure">{shareText(factors!.share)}</td><td>{driver}</td><td class="figure"
                  >{figureText(factors!.driver)}</td
                ><td class="figure">{figureText(value)}</td></tr
              >{/each}
          </tbody>
        </Table>
      </details>
    {/if}
  {/if}
</div>

<style>
  rect {
    fill: var(--span);
  }
  line {
    stroke: var(--ink);
  }
  text {
    font-size: 12.5px;
    fill: var(--ink);
  }
  p,
  ul {
    margin: 2px 0;
    padding: 0;
    list-style: none;
    font-size: 13px;
    color: var(--quiet);
  }
</style>
