<script lang="ts">
  import Input from './Input.svelte';
  import { fromAction } from 'svelte/attachments';
  import { dragSteps } from './dragSteps';

  interface Props {
    value: number;
    label: string;
    least?: number;
    most?: number;
    /** Told each number on the way while it is dragged. */
    onchange: (value: number) => void;
  }
  let { value, label, least = 1, most = Infinity, onchange }: Props = $props();

  let typed = $state<string>();

  const within = (wanted: number) => Math.min(most, Math.max(least, Math.round(wanted)));

  function turn(to: number): void {
    const wanted = within(to);
    if (wanted !== value) onchange(wanted);
  }

  /** A drag, and a press that lets one type the number. */
  const gestures = {
    begin: () => {
      const from = value;
      return (steps: number) => turn(from + steps);
    },
    press: () => (typed = String(value)),
  };

  function write(): void {
    const number = Number(typed);
    if (typed?.trim() && Number.isFinite(number)) turn(number);
    typed = undefined;
  }

  function key(event: KeyboardEvent): void {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (/^\d$/.test(event.key)) typed = event.key;
    else if (event.key === 'Enter') typed = String(value);
    else {
      const steps = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1, PageUp: 10, PageDown: -10 }[event.key];
      if (steps === undefined) return;
      turn(value + steps * (event.shiftKey ? 10 : 1));
    }
    event.preventDefault();
  }

  function begin(field: HTMLInputElement): void {
    field.focus();
    if (typed === String(value)) field.select();
  }
</script>

{#if typed !== undefined}<Input
    look="word"
    bind:value={typed}
    {@attach fromAction(begin)}
    inputmode="numeric"
    aria-label="{label}, typed"
    style="width: {Math.max(2, typed.length + 1)}ch"
    onkeydown={(event) => {
      if (event.key === 'Enter') write();
      if (event.key === 'Escape') typed = undefined;
    }}
    onblur={write}
  />{:else}<span
    role="spinbutton"
    tabindex="0"
    aria-label={label}
    aria-valuenow={value}
    aria-valuemin={least}
    aria-valuemax={Number.isFinite(most) ? most : undefined}
    title="Click to type another; drag sideways or use the arrow keys, Shift for large steps"
    use:dragSteps={gestures}
    onkeydown={key}>{value.toLocaleString('en')}</span
  >{/if}

<style>
  span {
    font-weight: 600;
    border-bottom: 1.5px dotted var(--ink);
    cursor: ew-resize;
    touch-action: none;
    user-select: none;
  }
  span:hover {
    color: var(--blue);
    border-bottom-style: solid;
  }
</style>
