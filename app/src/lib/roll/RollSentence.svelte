<script lang="ts">
  import Input from '$lib/components/Input.svelte';
  import Select from '$lib/components/Select.svelte';
  import type { Ledger } from '$lib/api/ledgers';
  import type { Tape } from '$lib/api/tapes';
  import Said from '$lib/components/Said.svelte';
  import ScrubNumber from '$lib/components/ScrubNumber.svelte';
  import { entriesOf, type Rolled } from './rollAddress';

  interface Props {
    rolled: Rolled;
    tapes: readonly Tape[];
    ledgers: readonly Ledger[];
    /** The ledger that these entries are of. */
    chosen: Ledger | undefined;
    change: (what: Partial<Rolled>, group?: string) => void;
  }
  let { rolled, tapes, ledgers, chosen, change }: Props = $props();

  let problem = $state('');

  function take(id: string): void {
    const ledger = ledgers.find((one) => String(one.id) === id);
    if (ledger) change({ entries: entriesOf(ledger), bars: ledger.body.rule });
  }

  function writeTapes(text: string): void {
    const names = text
      .split(',')
      .map((name) => name.trim())
      .filter(Boolean);
    const unknown = names.find((name) => !tapes.some((tape) => tape.name === name));
    problem = unknown === undefined ? '' : `No tape is called \`${unknown}\`; leave the field empty for all.`;
    if (!problem) change({ tapes: names });
  }

  const rewrite = (at: number, text: string) =>
    change({
      entries: text.trim()
        ? rolled.entries.map((entry, place) => (place === at ? text.trim() : entry))
        : rolled.entries.length > 1
          ? rolled.entries.filter((_, place) => place !== at)
          : rolled.entries,
    });
</script>

<h1>
  The entries of
  <Select
    look="word"
    aria-label="Ledger"
    value={chosen ? String(chosen.id) : ''}
    onchange={(event) => take(event.currentTarget.value)}
  >
    <option value="">this page</option>
    {#each ledgers as ledger (ledger.id)}
      {#if entriesOf(ledger).length > 0}<option value={String(ledger.id)}>{ledger.title}</option>{/if}
    {/each}
  </Select>
  on
  <Input
    look="word"
    aria-label="Tapes"
    placeholder="all {tapes.length.toLocaleString('en')} tapes"
    title="Names with commas between; empty for all"
    value={rolled.tapes.join(', ')}
    onchange={(event) => writeTapes(event.currentTarget.value)}
  />
  in bars of
  <span class="unbroken"
    ><Input
      look="word"
      aria-label="Bar rule"
      value={rolled.bars}
      onchange={(event) => change({ bars: event.currentTarget.value.trim() })}
    />,</span
  >
  changes over
  <ScrubNumber
    value={rolled.back}
    label="Bars of a change"
    most={100_000}
    onchange={(back) => change({ back }, 'back')}
  />
  {rolled.back === 1 ? 'bar' : 'bars'}.
</h1>
{#if problem}<p class="problem" role="alert"><Said text={problem} /></p>{/if}
<ul>
  {#each rolled.entries as entry, at (at)}
    <li>
      <Input
        class="min-w-[16ch] max-w-full py-px font-mono text-[13px] field-sizing-content"
        aria-label="Entry {at + 1}"
        title="Empty to leave it out"
        value={entry}
        onchange={(event) => rewrite(at, event.currentTarget.value)}
      />
    </li>
  {/each}
  <li>
    <Input
      class="min-w-[16ch] max-w-full py-px font-mono text-[13px] field-sizing-content"
      aria-label="New entry"
      placeholder="add a formula…"
      value=""
      onchange={(event) => {
        const text = event.currentTarget.value.trim();
        event.currentTarget.value = '';
        if (text) change({ entries: [...rolled.entries, text] });
      }}
    />
  </li>
</ul>

<style>
  ul {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 18px;
    list-style: none;
    margin: 4px 0 0;
    padding: 0;
  }
  .problem {
    margin: 2px 0 0;
    color: var(--wrong);
  }
</style>
