<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import FileInput from '$lib/components/FileInput.svelte';
  import Input from '$lib/components/Input.svelte';
  import { goto } from '$app/navigation';
  import { createLedger, deleteLedger, fetchLedgers } from '$lib/api/client';
  import { LedgerFile, type Ledger } from '$lib/api/ledgers';
  import type { Tape } from '$lib/api/tapes';
  import { reasonOf } from '$lib/api/problems';
  import { StretchedList } from '$lib/api/stretchedList.svelte';
  import MoreLines from '$lib/components/MoreLines.svelte';
  import { saveAs } from '$lib/plots/figuresOut';
  import { parsedJson } from '$lib/api/browserStorage';
  import { dateText, sparkPath } from '$lib/records/shelfModel';
  import { foundLedgers } from './ledgerOrder';
  import type { LedgerDocument } from './ledgerDocument.svelte';
  import Sheet from '$lib/plots/Sheet.svelte';

  interface Props {
    document: LedgerDocument;
    tapes: readonly Tape[];
    onclose: () => void;
  }
  let { document, tapes, onclose }: Props = $props();

  const list = new StretchedList((from) => fetchLedgers(fetch, from));
  const ledgers = $derived(list.items);
  let told = $state('');
  let words = $state('');
  let field = $state<HTMLInputElement>();
  const found = $derived(foundLedgers(ledgers ?? [], words, document.body.tape));
  const sparkOf = $derived(new Map(tapes.map(({ name, spark }) => [name, sparkPath(spark, 60, 16)])));
  $effect(() => field?.focus());
  let file = $state<HTMLInputElement>();

  async function attempt(what: () => Promise<void>): Promise<void> {
    told = '';
    try {
      await what();
    } catch (error) {
      told = reasonOf(error);
    }
  }

  const load = () => attempt(() => list.load());
  $effect(() => void load());

  const open = async (id: number) => {
    onclose();
    await goto(`/ledger/${id}`);
  };

  const duplicate = () =>
    attempt(async () => {
      const { id } = await createLedger(fetch, {
        title: `${document.title}, copy`,
        body: $state.snapshot(document.body),
      });
      await open(id);
    });

  const remove = (ledger: Ledger) =>
    attempt(async () => {
      await deleteLedger(fetch, ledger);
      list.remove(ledger.id);
      told = `${ledger.title} is deleted. `;
      removed = ledger;
    });
  let removed = $state.raw<Ledger>();

  const bringBack = () =>
    attempt(async () => {
      await createLedger(fetch, { title: removed!.title, body: removed!.body });
      removed = undefined;
      await load();
    });

  function handOut(): void {
    const whole: LedgerFile = {
      format: 'jaunty-ledger/1',
      title: document.title,
      body: $state.snapshot(document.body),
    };
    saveAs(
      new Blob([JSON.stringify(whole, null, 2)], { type: 'application/json' }),
      `${document.title.replaceAll(/[^\w-]+/g, '_')}.ledger.json`,
    );
  }

  const takeIn = (chosen: File | undefined) =>
    attempt(async () => {
      if (!chosen) return;
      const content = parsedJson(await chosen.text());
      if (content === undefined)
        throw new Error(`${chosen.name} is no JSON. Choose a file that a ledger was saved as.`);
      const read = LedgerFile.safeParse(content);
      if (!read.success) {
        const [{ path, message }] = read.error.issues;
        throw new Error(`${chosen.name} is no ledger of this kind: ${path.join('.') || 'the file'}: ${message}.`);
      }
      const { id } = await createLedger(fetch, { title: read.data.title, body: read.data.body });
      await open(id);
    });
</script>

<Sheet label="All ledgers" widthPx={620} {onclose}>
  <h2>All ledgers</h2>
  {#if !ledgers && !told}<p>Loading…</p>{/if}
  <Input
    class="w-full! py-0.5"
    type="search"
    bind:element={field}
    bind:value={words}
    placeholder="find by title, tape, bars or formula"
    aria-label="Find a ledger"
  />
  {#each [[`of ${document.body.tape}`, found.own], ['of other tapes', found.others]] as const as [says, some] (says)}
    {#if some.length > 0}
      <h3>{says}</h3>
      <ul>
        {#each some as ledger (ledger.id)}
          <li>
            <a href="/ledger/{ledger.id}" aria-current={ledger.title === document.title ? 'true' : undefined}
              >{ledger.title}</a
            >
            <span>{ledger.body.tape}, {ledger.body.rule}</span>
            <svg viewBox="0 0 60 16" aria-hidden="true"><path d={sparkOf.get(ledger.body.tape) ?? ''} /></svg>
            <time datetime={ledger.savedAt}>{dateText(ledger.savedAt, 'day')}</time>
            <Button aria-label="Delete {ledger.title}" onclick={() => remove(ledger)}>delete</Button>
          </li>
        {/each}
      </ul>
    {/if}
  {/each}
  {#if ledgers && found.own.length + found.others.length === 0}<p>
      {words ? 'No ledger has these words.' : 'No saved ledgers yet.'}
    </p>{/if}
  <MoreLines {list} says="ledgers" {words} {attempt} />
  {#if told}<p role="status">
      {told}{#if removed}<Button look="word" onclick={bringBack}>Bring it back</Button>{/if}
    </p>{/if}
  <p class="acts">
    <Button look="word" onclick={duplicate}>Copy this ledger</Button>,
    <Button look="word" onclick={handOut}>save it as a file</Button>, or
    <Button look="word" onclick={() => file?.click()}>open one from a file</Button>.
    <FileInput
      bind:element={file}
      accept=".json,application/json"
      hidden
      aria-label="Ledger file"
      onchange={(event) => takeIn(event.currentTarget.files?.[0])}
    />
  </p>
</Sheet>

<style>
  h2 {
    font-size: 16px;
    margin: 0 0 4px;
  }
  li {
    display: grid;
    grid-template-columns: minmax(0, 1.4fr) minmax(0, 1fr) 60px auto auto;
    gap: 10px;
    align-items: baseline;
    border-bottom: 1px solid var(--rule-faint);
    padding: 2px 0;
  }
  li a {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
    color: var(--ink);
  }
  li a[aria-current] {
    font-weight: 600;
  }
  h3 {
    margin: 8px 0 0;
    font-size: 13px;
    font-weight: 400;
    font-style: italic;
    color: var(--quiet);
  }
  svg {
    width: 60px;
    height: 16px;
    align-self: center;
  }
  path {
    fill: none;
    stroke: var(--blue);
    stroke-width: 1.1;
  }
  li span {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  li :is(span, time) {
    color: var(--quiet);
    font-size: 13px;
  }
</style>
