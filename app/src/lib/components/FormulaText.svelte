<script lang="ts">
  import Input from './Input.svelte';
  import { fromAction } from 'svelte/attachments';
  import { formulaParts, type StepSize } from './scrub';

  let {
    text,
    from,
    onscrub,
    onwrite,
    onfan,
  }: {
    text: string;
    /** Where the formula begins in the text; what stands before is shown elsewhere. */
    from: number;
    onscrub: (text: string, start: number, steps: number, pace: StepSize) => void;
    /** Another number was typed: the whole text with it. */
    onwrite: (text: string) => void;
    /** The number that starts there becomes a list of settings. */
    onfan?: (start: number) => void;
  } = $props();

  /** Pixels of a drag that make one step. */
  const STEP_PX = 5;

  const parts = $derived(formulaParts(text).filter(({ start, text: part }) => start + part.length > from));
  let drag: { text: string; start: number; x: number; isMoved: boolean } | undefined;
  /** The number that is typed anew: which of the parts, and what stands there so far. */
  let typed = $state<{ index: number; text: string; isBegun: boolean }>();

  const paceOf = (event: MouseEvent | KeyboardEvent): StepSize =>
    event.shiftKey ? 'coarse' : event.altKey ? 'fine' : 'usual';

  function down(event: PointerEvent, start: number): void {
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    drag = { text, start, x: event.clientX, isMoved: false };
  }

  function move(event: PointerEvent): void {
    if (!drag) return;
    drag.isMoved ||= Math.abs(event.clientX - drag.x) >= STEP_PX;
    if (!drag.isMoved) return;
    // always from where the drag began, so that going back gives back the number it started with
    onscrub(drag.text, drag.start, Math.trunc((event.clientX - drag.x) / STEP_PX), paceOf(event));
  }

  /** A press without a drag lets one type the number. */
  function up(index: number, written: string): void {
    if (drag && !drag.isMoved) typed = { index, text: written, isBegun: false };
    drag = undefined;
  }

  function write(part: { start: number; text: string }): void {
    const number = typed?.text.trim() ?? '';
    typed = undefined;
    // what is no number leaves the formula as it was
    if (/^(\d+\.?\d*|\.\d+)$/.test(number) && number !== part.text)
      onwrite(text.slice(0, part.start) + number + text.slice(part.start + part.text.length));
  }

  function typeKey(event: KeyboardEvent, part: { start: number; text: string }): void {
    event.stopPropagation(); // figures are typed here, not keys of the page
    if (event.key === 'Enter') write(part);
    if (event.key === 'Escape') typed = undefined;
  }

  const begin = (field: HTMLInputElement) => {
    field.focus();
    if (!typed?.isBegun) field.select();
  };

  function key(event: KeyboardEvent, start: number, index: number): void {
    if (/^\d$/.test(event.key) && !event.ctrlKey && !event.metaKey) {
      event.preventDefault();
      event.stopPropagation();
      typed = { index, text: event.key, isBegun: true };
      return;
    }
    if (event.key === 'f' && onfan) {
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
    )}{:else if typed?.index === index}<Input
      class="border-b-[1.5px] border-(--blue) font-semibold"
      bind:value={typed.text}
      {@attach fromAction(begin)}
      inputmode="decimal"
      aria-label="{part.number.of || 'number'}, typed"
      style="width: {Math.max(2, typed.text.length + 1)}ch"
      onkeydown={(event) => typeKey(event, part)}
      onblur={() => write(part)}
    />{:else}<span
      class="number"
      role="spinbutton"
      tabindex="0"
      aria-valuenow={part.number.value}
      aria-label={part.number.of || 'number'}
      title="Click to type another; drag sideways or use the arrow keys; Shift for large steps, Alt for small ones{onfan
        ? '; f makes it a fan'
        : ''}"
      onpointerdown={(event) => down(event, part.start)}
      onpointermove={move}
      onpointerup={() => up(index, part.text)}
      onpointercancel={() => (drag = undefined)}
      onkeydown={(event) => key(event, part.start, index)}>{part.text}</span
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
