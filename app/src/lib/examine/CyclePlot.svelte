<script lang="ts">
  import type { ToldExamination } from '$lib/api/examinations';
  import Frame from './Frame.svelte';
  import { brief } from './lines';

  interface Props {
    cycles: ToldExamination['cycles'];
    /** So many rows in time, where that is known. */
    lagText: (rows: number) => string;
  }
  let { cycles, lagText }: Props = $props();

  const power = $derived(cycles.power as number[]);
  const most = $derived(Math.max(1e-300, ...power));
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
          x={(at / power.length) * widthPx}
          width={Math.max(1, (widthPx / power.length) * 0.7)}
          y={y(value)}
          height={Math.max(0, y(0) - y(value))}
        />
      {/each}
    {/snippet}
  </Frame>
  <ol>
    {#each cycles.peaks as { j, period, share, p } (j)}
      <li>
        <strong>{brief(period)} rows</strong>
        {lagText(period ?? 0)}: {(100 * (share ?? 0)).toFixed(share !== null && share < 0.1 ? 1 : 0)} % of all swings, p {p !==
          null && p < 0.001
          ? 'below 0.001'
          : brief(p)}
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
