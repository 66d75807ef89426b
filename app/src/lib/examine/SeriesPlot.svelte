<script lang="ts">
  import Frame from './Frame.svelte';
  import { extentOfFigures, linePath, type Figures } from './lines';

  interface Props {
    label: string;
    values: Figures;
    heightPx?: number;
    ink?: string;
    /** A line across, at the mean. */
    mean?: number | null;
    /** Marks of the calendar: which value each stands at, and its text. */
    marks?: readonly { at: number; text: string }[];
    /** Whether the texts of the marks are written. */
    showsTexts?: boolean;
    pointer: number | undefined;
    onpoint: (at: number | undefined) => void;
  }
  let {
    label,
    values,
    heightPx = 110,
    ink = 'var(--ink)',
    mean,
    marks = [],
    showsTexts = false,
    pointer,
    onpoint,
  }: Props = $props();

  const x = (at: number, widthPx: number) => ((at + 0.5) / Math.max(1, values.length)) * widthPx;

  function point(event: PointerEvent, widthPx: number): void {
    const { left } = (event.currentTarget as Element).getBoundingClientRect();
    const at = Math.floor(((event.clientX - left) / widthPx) * values.length);
    onpoint(at >= 0 && at < values.length ? at : undefined);
  }
</script>

<Frame {label} {heightPx} extent={extentOfFigures(values)} footPx={showsTexts ? 18 : 0}>
  {#snippet children(widthPx, y)}
    {#each marks as { at, text } (at)}
      <line class="mark" x1={x(at, widthPx)} x2={x(at, widthPx)} y1="0" y2={heightPx} />
      {#if showsTexts}<text x={x(at, widthPx) + 4} y={heightPx - 4}>{text}</text>{/if}
    {/each}
    {#if typeof mean === 'number'}<line class="mean" x1="0" x2={widthPx} y1={y(mean)} y2={y(mean)} />{/if}
    <path d={linePath(values, (at) => x(at, widthPx), y)} stroke={ink} />
    {#if pointer !== undefined}<line
        class="pointer"
        x1={x(pointer, widthPx)}
        x2={x(pointer, widthPx)}
        y1="0"
        y2={heightPx}
      />{/if}
    <rect
      width={widthPx}
      height={heightPx}
      class="hit"
      role="presentation"
      onpointermove={(event) => point(event, widthPx)}
      onpointerleave={() => onpoint(undefined)}
    />
  {/snippet}
</Frame>

<style>
  path {
    fill: none;
    stroke-width: 1.3;
  }
  .mark {
    stroke: var(--rule);
  }
  .mean {
    stroke: var(--rust);
    stroke-dasharray: 4 3;
  }
  .pointer {
    stroke: var(--ink);
    stroke-dasharray: 1 2;
  }
  text {
    font-size: 12px;
    font-style: italic;
    fill: var(--quiet);
  }
  rect.hit {
    fill: transparent;
  }
</style>
