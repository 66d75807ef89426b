<script lang="ts">
  import Input from '$lib/components/Input.svelte';
  import { rfc3339, type Calendar } from '@jaunty-ledger/core';
  import { barsOnTape } from '$lib/api/naturalBars';
  import type { Tape } from '$lib/api/tapes';
  import Said from '$lib/components/Said.svelte';
  import ScrubNumber from '$lib/components/ScrubNumber.svelte';
  import StretchFields from '$lib/pages/StretchFields.svelte';
  import TapeAndRule from '$lib/pages/TapeAndRule.svelte';
  import { readStretch } from '$lib/plots/stretchInput';
  import type { Projected } from './projectAddress';

  interface Props {
    projected: Projected;
    tapes: readonly Tape[];
    calendar: Calendar | undefined;
    timeText: (time: string) => string;
    change: (what: Partial<Projected>, group?: string) => void;
  }
  let { projected, tapes, calendar, timeText, change }: Props = $props();

  let problem = $state('');
  const tape = $derived(tapes.find(({ name }) => name === projected.tape));

  function changeTape(name: string): void {
    const chosen = tapes.find((one) => one.name === name);
    const bars = barsOnTape(projected.bars, tape, chosen);
    change({ tape: name, bars, origin: '', from: '', to: '' });
  }

  function typeOrigin(text: string): void {
    const stretch = text.trim() ? readStretch('', text, calendar!) : undefined;
    problem = typeof stretch === 'string' ? stretch : '';
    if (typeof stretch !== 'string') change({ origin: stretch ? rfc3339(stretch.to - 1) : '' });
  }
</script>

<h1>
  <Input
    look="word"
    class="formula"
    aria-label="What is projected"
    value={projected.entry}
    onchange={(event) => change({ entry: event.currentTarget.value.trim() || 'close' })}
  />
  <TapeAndRule
    tape={projected.tape}
    bars={projected.bars}
    {tapes}
    onTape={changeTape}
    onBars={(bars) => change({ bars, origin: '' })}
  />
  <StretchFields
    from={projected.from}
    to={projected.to}
    bars={projected.bars}
    {tape}
    {calendar}
    mark=","
    change={(what, group) => change({ ...what, origin: '' }, group)}
    wrong={(says) => (problem = says)}
  />
  starting after
  <span class="unbroken"
    ><Input
      look="word"
      aria-label="Last bar that is seen"
      placeholder="the last bar"
      value={projected.origin && calendar ? timeText(projected.origin) : ''}
      onchange={(event) => typeOrigin(event.currentTarget.value)}
    />,</span
  >
  <ScrubNumber
    value={projected.horizon}
    label="Bars ahead"
    most={1000}
    onchange={(horizon) => change({ horizon }, 'horizon')}
  />
  bars ahead.
</h1>
{#if problem}<p class="problem" role="alert"><Said text={problem} /></p>{/if}

<style>
  .problem {
    margin: 2px 0 0;
    color: var(--wrong);
  }
</style>
