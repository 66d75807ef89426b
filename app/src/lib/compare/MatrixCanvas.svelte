<script lang="ts">
  import { brief, type Figures } from '$lib/pictures/lines';
  import { paper } from '$lib/components/paper.svelte';

  interface Props {
    order: readonly number[];
    values: readonly Figures[];
    names: readonly string[];
    pair: { a: number; b: number } | undefined;
    pick: (a: number, b: number) => void;
  }
  /** Correlations of many pairs as depth of ink; what is pointed at is told below. */
  let { order, values, names, pair, pick }: Props = $props();

  let canvas = $state<HTMLCanvasElement>();
  let sidePx = $state(0);
  let at = $state<{ row: number; column: number }>();

  $effect(() => {
    const context = canvas?.getContext('2d');
    if (!canvas || !context || sidePx === 0) return;
    void paper.shown; // drawn anew on another paper
    const style = getComputedStyle(canvas);
    const [blue, rust, marked] = ['--blue', '--rust', '--margin-rule'].map((name) => style.getPropertyValue(name));
    const ratio = window.devicePixelRatio || 1;
    canvas.width = canvas.height = Math.round(sidePx * ratio);
    context.scale(ratio, ratio);
    const cell = sidePx / order.length;
    const gap = cell > 6 ? 1 : 0;
    order.forEach((i, row) =>
      order.forEach((j, column) => {
        const r = values[i][j];
        if (i === j || r === null) return;
        context.globalAlpha = Math.abs(r);
        context.fillStyle = r < 0 ? rust : blue;
        context.fillRect(column * cell, row * cell, Math.max(0.6, cell - gap), Math.max(0.6, cell - gap));
      }),
    );
    context.globalAlpha = 1;
    context.strokeStyle = marked;
    context.lineWidth = 1.5;
    for (const [i, j] of pair
      ? [
          [pair.a, pair.b],
          [pair.b, pair.a],
        ]
      : []) {
      const [row, column] = [order.indexOf(i), order.indexOf(j)];
      if (row >= 0 && column >= 0)
        context.strokeRect(column * cell - 1, row * cell - 1, Math.max(4, cell + 1), Math.max(4, cell + 1));
    }
  });

  function cellAt(event: PointerEvent | MouseEvent) {
    const { left, top, width } = canvas!.getBoundingClientRect();
    const place = (px: number) => Math.min(order.length - 1, Math.max(0, Math.floor((px / width) * order.length)));
    return { row: place(event.clientY - top), column: place(event.clientX - left) };
  }
  const choose = ({ row, column }: { row: number; column: number }) => pick(order[row], order[column]);

  function key(event: KeyboardEvent): void {
    const [down, right] = { ArrowDown: [1, 0], ArrowUp: [-1, 0], ArrowRight: [0, 1], ArrowLeft: [0, -1] }[
      event.key
    ] ?? [0, 0];
    if (event.key === 'Enter' && at) choose(at);
    if (down === 0 && right === 0) return;
    event.preventDefault();
    const within = (place: number) => Math.min(order.length - 1, Math.max(0, place));
    at = { row: within((at?.row ?? 0) + down), column: within((at?.column ?? 0) + right) };
  }
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
<div
  bind:clientWidth={sidePx}
  tabindex="0"
  role="application"
  aria-label="Correlations of {order.length} members; arrow keys go from pair to pair, Enter takes one"
  onpointermove={(event) => (at = cellAt(event))}
  onpointerleave={() => (at = undefined)}
  onclick={(event) => choose(cellAt(event))}
  onkeydown={key}
>
  <canvas bind:this={canvas} style:width="{sidePx}px" style:height="{sidePx}px"></canvas>
</div>
<p class="quiet" role="status">
  {#if at}
    {@const [i, j] = [order[at.row], order[at.column]]}
    {names[i]}{i === j ? '' : ` with ${names[j]}: ${brief(values[i][j])}`}
  {:else}Blue: positive correlation; rust: negative; darker is stronger.{/if}
</p>

<style>
  canvas {
    display: block;
    cursor: crosshair;
  }
  p {
    min-height: 1.4em;
  }
</style>
