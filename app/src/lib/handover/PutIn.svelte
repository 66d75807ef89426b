<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Select from '$lib/components/Select.svelte';
  import { splitEntry } from '@jaunty-ledger/core';
  import type { Block } from '$lib/api/handovers';
  import type { Ledger } from '$lib/api/ledgers';
  import { whatIsInView } from '$lib/components/inView.svelte';
  import {
    chartOfLedger,
    checkedOf,
    draftOf,
    newId,
    paragraphOf,
    settingOfLedger,
    tableOf,
    type HandedOver,
  } from './blocks';

  interface Props {
    ledgers: readonly Ledger[];
    blocks: readonly Block[];
    disabled: boolean;
    put: (make: HandedOver['make']) => void;
  }
  let { ledgers, blocks, disabled, put }: Props = $props();

  /** The ledger of the tape that the page is about already, or that is in view; else the one saved last. */
  const usual = $derived.by(() => {
    const tape = blocks.flatMap((block) => ('setting' in block && block.setting ? [block.setting.tape] : []))[0];
    const inView = whatIsInView();
    const about = tape ?? inView?.tape;
    const ofTape = ledgers.filter(({ body }) => body.tape === about);
    return (ofTape.find(({ id }) => id === inView?.ledger) ?? ofTape[0] ?? ledgers[0])?.id;
  });
  let picked = $state<number>();
  const ledger = $derived(ledgers.find(({ id }) => id === (picked ?? usual)));
  const setting = $derived(ledger && settingOfLedger(ledger.body));

  /** A mean can be followed by hand, row by row. */
  const toCheck = $derived(
    setting?.entries.map((text) => splitEntry(text)).find(({ formula }) => /^\s*mean\(/.test(formula))?.name ?? 'close',
  );

  const acts = $derived<readonly [says: string, make: HandedOver['make'], needsLedger: boolean][]>([
    ['a paragraph', async () => [paragraphOf(setting ?? null)], false],
    ['a paragraph, drafted', async (sources) => [await draftOf(setting!, sources)], true],
    ['a chart', async (sources) => [await chartOfLedger(ledger!.title, ledger!.body, sources)], true],
    ['a table: latest values', async (sources) => [await tableOf(setting!, 'standing', sources)], true],
    ['a table: the last rows', async (sources) => [await tableOf(setting!, 'rows', sources)], true],
    ['a checked box', async (sources) => [await checkedOf(setting!, toCheck, sources)], true],
    ['a rule', async () => [{ id: newId(), kind: 'divider' }], false],
  ]);
</script>

<h2>Put in</h2>
{#if ledgers.length > 0}<p class="quiet">
    of <Select
      look="word"
      class="text-[14px]"
      aria-label="Ledger to insert"
      value={String(picked ?? usual)}
      onchange={(event) => (picked = Number(event.currentTarget.value))}
    >
      {#each ledgers as { id, title } (id)}<option value={String(id)}>{title}</option>{/each}
    </Select>
  </p>{/if}
<ul>
  {#each acts as [says, make, needsLedger] (says)}
    <li>
      <Button disabled={disabled || (needsLedger && !ledger)} onclick={() => put(make)}>{says}</Button>
    </li>
  {/each}
</ul>
<p class="quiet">From Examine, Project, Compare and the roll, use “hand over” there.</p>

<style>
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
  }
</style>
