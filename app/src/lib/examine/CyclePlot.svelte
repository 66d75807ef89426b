<script lang="ts">
  import type { ToldExamination } from '$lib/api/examinations';
  import Frame from './Frame.svelte';
  import { brief, chanceText } from './lines';

  interface Props {
    cycles: ToldExamination['cycles'];
    /** So many rows in time, where that is known. */
    lagText: (rows: number) => string;
  }
  let { cycles, lagText }: Props = $props();

  const power = $derived(cycles.power as number[]);
  const most = $derived(Math.max(1e-300, ...power));
  /** Where so many swings over all rows stand: equal ratios of length are equally far apart. */
  const last = $derived(Math.max(2, power.length * cycles.together));
  const x = (swings: number, widthPx: number) => (Math.log(swings) / Math.log(last)) * (widthPx - 8) + 4;
  const swingsAt = (at: number) => at * cycles.together + (cycles.together + 1) / 2;
  /** Lengths that are written along the foot, the longest first. */
  const lengths = $derived(
    [1, 2, 5]
      .flatMap((digit) => [0, 1, 2, 3, 4, 5, 6].map((power) => digit * 10 ** power))
      .filter((rows) => rows >= cycles.count / last && rows <= cycles.count)
      .sort((a, b) => b - a)
      .filter((_, at, all) => at % Math.ceil(all.length / 6) === 0),
  );
  const strong = $derived(new Set(cycles.peaks.map(({ j }) => Math.floor((j - 1) / cycles.together))));
</script>

{#if power.length === 0}
  <p>Three values at least are needed.</p>
{:else}
  <Frame label="Power by frequency; the strongest periods are listed below" heightPx={110} extent={[0, most]} fromZero>
    {#snippet children(widthPx, y)}
      {#each power as value, at (at)}
        <rect
          class:strong={strong.has(at)}
          x={x(swingsAt(at), widthPx) - (strong.has(at) ? 1 : 0.5)}
          width={strong.has(at) ? 2 : 1}
          y={y(value)}
          height={Math.max(0, y(0) - y(value))}
        />
      {/each}
    {/snippet}
  </Frame>
  <p class="lengths" aria-hidden="true">
    {#each lengths as rows (rows)}<span
        style:left="calc(4px + (100% - 66px) * {Math.log(cycles.count / rows) / Math.log(last)})"
        >{rows.toLocaleString('en')}</span
      >{/each}<span class="unit">rows</span>
  </p>
  <ol>
    {#each cycles.peaks as { j, period, share, p } (j)}
      <li>
        <strong>{brief(period)} rows</strong>
        {lagText(period ?? 0)}: {(100 * (share ?? 0)).toFixed(share !== null && share < 0.1 ? 1 : 0)} % of all swings, p {chanceText(
          p,
        )}
      </li>
    {/each}
  </ol>
{/if}

<style>
  rect {
    fill: var(--volume);
  }
  rect.strong {
    fill: var(--blue);
  }
  .lengths {
    position: relative;
    height: 15px;
    margin: 0;
    font-size: 12px;
    color: var(--quiet);
  }
  .lengths span {
    position: absolute;
    transform: translateX(-50%);
    white-space: nowrap;
  }
  .lengths .unit {
    right: 0;
    transform: none;
  }
  ol {
    margin: 4px 0 0;
    padding: 0;
    list-style: none;
    font-size: 13px;
    color: var(--quiet);
  }
  strong {
    color: var(--ink);
  }
</style>
