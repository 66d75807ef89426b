<script lang="ts">
  import Input from '$lib/components/Input.svelte';
  import Select from '$lib/components/Select.svelte';
  import type { Calendar } from '@jaunty-ledger/core';
  import { memberText } from '$lib/works/comparison/work';
  import type { Tape } from '$lib/api/tapes';
  import Said from '$lib/components/Said.svelte';
  import ScrubNumber from '$lib/components/ScrubNumber.svelte';
  import StretchFields from '$lib/pages/StretchFields.svelte';
  import { readMember, splitMembers, type Compared } from './compareAddress';

  interface Props {
    compared: Compared;
    tapes: readonly Tape[];
    calendar: Calendar;
    change: (what: Partial<Compared>, group?: string) => void;
  }
  let { compared, tapes, calendar, change }: Props = $props();

  let problem = $state('');
  const texts = $derived(compared.members.map(memberText));
  const tape = $derived(tapes.find(({ name }) => name === compared.members[0].tape));

  function writeMembers(text: string): void {
    const written = splitMembers(text);
    const members = written.map(readMember);
    const wrong = written.find((_, at) => !members[at]);
    problem =
      wrong !== undefined
        ? `\`${wrong}\` is no member; write the name of a tape, or \`KELP: volume\` for another column of it.`
        : members.length === 0
          ? 'At least one member is needed.'
          : '';
    if (!problem) change({ members: members as Compared['members'] });
  }
</script>

<h1>
  <Input
    look="word"
    class="members"
    aria-label="Members"
    title="Tapes with commas between; `KELP: volume` is another column"
    value={texts.join(', ')}
    onchange={(event) => writeMembers(event.currentTarget.value)}
  />
  in bars of
  <span class="unbroken"
    ><Input
      look="word"
      aria-label="Bar rule"
      value={compared.bars}
      onchange={(event) => change({ bars: event.currentTarget.value.trim() })}
    />,</span
  >
  <Select
    look="word"
    aria-label="Scale of the lines"
    value={compared.scale}
    onchange={(event) => change({ scale: event.currentTarget.value as Compared['scale'] })}
  >
    <option value="rebased">rebased to 100</option>
    <option value="percent">in percent</option>
    <option value="raw">as they stand</option>
  </Select>
  on
  <span class="unbroken"
    ><Select
      look="word"
      aria-label="Rows that they are joined on"
      value={compared.rows}
      onchange={(event) => change({ rows: event.currentTarget.value as Compared['rows'] })}
    >
      <option value="common">common bars only</option>
      <option value="all">all rows</option>
      <option value="carried">all rows, carried on</option>
    </Select>,</span
  >
  <StretchFields
    from={compared.from}
    to={compared.to}
    bars={compared.bars}
    {tape}
    {calendar}
    mark=";"
    {change}
    wrong={(says) => (problem = says)}
  />
  <Select
    look="word"
    aria-label="What is correlated"
    value={compared.of}
    onchange={(event) => change({ of: event.currentTarget.value as Compared['of'] })}
  >
    <option value="returns">returns</option>
    <option value="levels">levels</option>
  </Select>
  over
  <ScrubNumber
    value={compared.window}
    label="Rows of a correlation"
    least={2}
    most={100_000}
    onchange={(window) => change({ window }, 'window')}
  />
  bars.
</h1>
{#if compared.of === 'levels'}<p class="says">Levels that trend correlate near 1, whatever else they do.</p>{/if}
{#if problem}<p class="wrong" role="alert"><Said text={problem} /></p>{/if}

<style>
  .says,
  .wrong {
    margin: 2px 0 0;
    font-size: 14px;
    color: var(--quiet);
  }
  .wrong {
    color: var(--wrong);
  }
</style>
