<script lang="ts">
  import Input from '$lib/components/Input.svelte';
  import { fromAction } from 'svelte/attachments';
  import { DAY, instantOf, rfc3339, type Calendar } from '@jaunty-ledger/core';
  import type { Tape } from '$lib/api/tapes';
  import { dragSteps } from '$lib/components/dragSteps';
  import { readKind } from './readKind';
  import { readStretch } from '$lib/plots/stretchInput';
  import { momentFigures } from '$lib/plots/stretchText';

  interface Props {
    /** First instant and the one after the last; empty where the stretch is open. */
    from: string;
    to: string;
    bars: string;
    tape: Tape | undefined;
    calendar: Calendar | undefined;
    /** The mark behind the last field. */
    mark: string;
    change: (what: { from?: string; to?: string }, group?: string) => void;
    /** Told what is wrong with what was typed; empty where nothing is. */
    wrong: (problem: string) => void;
  }
  /** The part of a sentence that says from which bar to which. Its ends are typed, or turned bar by bar. */
  let { from, to, bars, tape, calendar, mark, change, wrong }: Props = $props();

  const precision = $derived(tape?.precision ?? 'moment');
  const endText = (at: string, isEnd: boolean) =>
    at && calendar ? momentFigures(instantOf(at) - (isEnd ? 1 : 0), calendar, precision) : '';
  const ends = $derived({ from: endText(from, false), to: endText(to, true) });

  function type(what: Partial<typeof ends>): void {
    if (!calendar) return;
    const typed = { ...ends, ...what };
    const stretch = readStretch(typed.from, typed.to, calendar);
    wrong(typeof stretch === 'string' ? stretch : '');
    if (typeof stretch === 'string') return;
    const text = (at: number) => (Number.isFinite(at) ? rfc3339(at) : '');
    change({ from: text(stretch.from), to: text(stretch.to) });
  }

  /** Ends move by the length of a bar, or by a day where bars go by something else. */
  const barMicros = $derived.by(() => {
    const kind = readKind(bars);
    if (kind?.by === 'interval') return kind.micros;
    return DAY * (kind?.by === 'period' ? { day: 1, week: 7, month: 30, quarter: 91, year: 365 }[kind.unit] : 1);
  });
  /** Moves an end of the stretch by so many bars from where it stands; an open one stands at the tape's own. */
  function mover(end: 'from' | 'to'): (steps: number) => void {
    const at = instantOf({ from, to }[end] || tape?.[end] || '');
    return (steps) => {
      if (!Number.isNaN(at)) change({ [end]: rfc3339(at + steps * barMicros) }, end);
    };
  }
  function turn(event: KeyboardEvent, end: 'from' | 'to'): void {
    const steps = { ArrowUp: 1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[event.key];
    if (steps === undefined) return;
    event.preventDefault();
    mover(end)(steps * (event.shiftKey ? 10 : 1));
  }
  const fields = $state<{ from?: HTMLInputElement; to?: HTMLInputElement }>({});
  const gesturesOf = (end: 'from' | 'to') => ({ begin: () => mover(end), press: () => fields[end]?.select() });
</script>

{#each [['from', 'First bar', 'the first'], ['to', 'Last bar', 'the last']] as const as [end, label, open] (end)}
  {end}
  <span class="unbroken" class:spaced={end === 'from'}
    ><Input
      look="word"
      aria-label={label}
      placeholder={open}
      title="Type it, drag it sideways, or use the arrow keys"
      bind:element={fields[end]}
      {@attach fromAction(dragSteps, () => gesturesOf(end))}
      onkeydown={(event) => turn(event, end)}
      value={ends[end]}
      onchange={(event) => type({ [end]: event.currentTarget.value })}
    />{end === 'to' ? mark : ''}</span
  >
{/each}

<style>
  .spaced {
    margin-right: 0.25em;
  }
</style>
