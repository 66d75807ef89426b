<script lang="ts">
  import type { ToldHurst } from '$lib/works/examination/work';
  import Enlargeable from '$lib/pictures/Enlargeable.svelte';
  import Frame from '$lib/pictures/Frame.svelte';
  import { brief, extentOfFigures, linePath } from '$lib/pictures/lines';

  let { views }: { views: readonly ToldHurst[] } = $props();

  const NAMES = { rs: 'rescaled range', dfa: 'detrended fluctuation', variance: 'variance of sums' } as const;
  const sizes = $derived(views.flatMap(({ logSizes }) => logSizes as number[]));
  const [low, high] = $derived([Math.min(...sizes), Math.max(...sizes)]);
  const x = (size: number, widthPx: number) => ((size - low) / (high - low || 1)) * (widthPx - 12) + 6;

  /** The line through the points, at their own middle. */
  function fitted({ by, h, logSizes, logSpreads }: ToldHurst): (size: number) => number {
    const middle = (values: readonly (number | null)[]) =>
      values.reduce<number>((sum, v) => sum + v!, 0) / values.length;
    const slope = by === 'rs' ? h! - 0.5 : by === 'variance' ? 2 * h! : h!;
    const [size, spread] = [middle(logSizes), middle(logSpreads)];
    return (at) => spread + slope * (at - size);
  }

  /** Between where 95 % of shuffled copies lie. */
  function bandPath({ logSizes, copies }: ToldHurst, widthPx: number, y: (value: number) => number): string {
    const points = logSizes.map((size, at) => ({
      size: size!,
      low: copies.lowSpreads[at],
      high: copies.highSpreads[at],
    }));
    const known = points.filter((point) => point.low !== null && point.high !== null);
    if (known.length === 0) return '';
    const there = known.map((point) => `${x(point.size, widthPx)} ${y(point.low!)}`);
    const back = known.reverse().map((point) => `${x(point.size, widthPx)} ${y(point.high!)}`);
    return `M${[...there, ...back].join('L')}Z`;
  }
</script>

<div class="three">
  {#each views as view (view.by)}
    {@const extent = extentOfFigures(view.logSpreads, view.copies.lowSpreads, view.copies.highSpreads)}
    <Enlargeable label="the {NAMES[view.by]}">
      <h3>{NAMES[view.by]} ({view.by})</h3>
      <Frame label="Logarithm of spread by logarithm of length, {NAMES[view.by]}" heightPx={110} {extent}>
        {#snippet children(widthPx, y)}
          {@const line = view.h === null ? undefined : fitted(view)}
          <path class="band" d={bandPath(view, widthPx, y)} />
          {#if line}
            {@const own = [view.logSizes[0]!, view.logSizes[view.logSizes.length - 1]!]}
            <path class="line" d={linePath(own.map(line), (at) => x(own[at], widthPx), y)} />
          {/if}
          {#each view.logSizes as size, at (at)}
            {#if size !== null && view.logSpreads[at] !== null}
              <circle cx={x(size, widthPx)} cy={y(view.logSpreads[at])} r="2.4" />
            {/if}
          {/each}
        {/snippet}
      </Frame>
      <p aria-hidden="true" class="ends">
        <span>{brief(Math.exp(low))}</span><span>{brief(Math.exp(high))} rows</span>
      </p>
      <p class="says">
        H <strong>{brief(view.h)}</strong> ± {brief(view.spread)}{view.copies.low === null
          ? ''
          : `; shuffled ${brief(view.copies.low)} to ${brief(view.copies.high)}`}
      </p>
    </Enlargeable>
  {/each}
</div>

<style>
  .three {
    display: grid;
    grid-template-columns: repeat(3, minmax(0, 1fr));
    gap: 20px;
  }
  .band {
    fill: var(--span);
  }
  .line {
    fill: none;
    stroke: var(--rust);
    stroke-width: 1.3;
  }
  circle {
    fill: var(--blue);
  }
  p {
    margin: 0;
    font-size: 13px;
    color: var(--quiet);
  }
  .ends {
    display: flex;
    justify-content: space-between;
    margin-right: 58px;
    font-size: 12px;
  }
  @media (max-width: 900px) {
    .three {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
