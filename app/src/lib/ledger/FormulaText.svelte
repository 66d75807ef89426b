<script lang="ts">
  import { formulaParts, type StepSize } from './scrub';

  let {
    text,
    from,
    onscrub,
    onfan,
  }: {
    text: string;
    /** Where the formula begins in the text; what stands before is shown elsewhere. */
    from: number;
    onscrub: (text: string, start: number, steps: number, pace: StepSize) => void;
    /** The number that starts there becomes a list of settings. */
    onfan: (start: number) => void;
  } = $props();

  /** Pixels of a drag that make one step. */
  const STEP_PX = 5;

  const parts = $derived(formulaParts(text).filter(({ start, text: part }) => start + part.length > from));
  let drag: { text: string; start: number; x: number } | undefined;

  const paceOf = (event: MouseEvent | KeyboardEvent): StepSize =>
    event.shiftKey ? 'coarse' : event.altKey ? 'fine' : 'usual';

  function down(event: PointerEvent, start: number): void {
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    drag = { text, start, x: event.clientX };
  }

  function move(event: PointerEvent): void {
    if (!drag) return;
    // always from where the drag began, so that going back gives back the number it started with
    onscrub(drag.text, drag.start, Math.trunc((event.clientX - drag.x) / STEP_PX), paceOf(event));
  }

  function key(event: KeyboardEvent, start: number): void {
    if (event.key === 'f') {
      event.preventDefault();
      return onfan(start);
    }
    const steps = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key];
    if (steps === undefined) return;
    event.preventDefault();
    onscrub(text, start, steps, paceOf(event));
  }
</script>

<!-- numbers are told apart by their order, which stays while they are turned; their texts and places change -->
{#each parts as part, index (index)}{#if part.kind === 'text'}{part.text.slice(
      Math.max(0, from - part.start),
    )}{:else}<span
      class="number"
      role="spinbutton"
      tabindex="0"
      aria-valuenow={part.number.value}
      aria-label={part.number.of || 'number'}
      title="Drag sideways or use the arrow keys; Shift for large steps, Alt for small ones; f makes it a fan"
      onpointerdown={(event) => down(event, part.start)}
      onpointermove={move}
      onpointerup={() => (drag = undefined)}
      onpointercancel={() => (drag = undefined)}
      onkeydown={(event) => key(event, part.start)}>{part.text}</span
    >{/if}{/each}

<style>
  .number {
    color: var(--ink);
    font-weight: 600;
    border-bottom: 1.5px dotted var(--ink);
    cursor: ew-resize;
    touch-action: none;
    user-select: none;
  }
  .number:hover {
    color: var(--blue);
    border-bottom-style: solid;
  }
</style>
