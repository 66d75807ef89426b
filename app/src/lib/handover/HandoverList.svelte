<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import Button from '$lib/components/Button.svelte';
  import Input from '$lib/components/Input.svelte';
  import { goto, invalidateAll } from '$app/navigation';
  import {
    createHandover,
    deleteHandover,
    fetchHandover,
    fetchHandovers,
    fetchLedger,
    fetchTape,
  } from '$lib/api/client';
  import type { Handover, HandoverSummary } from '$lib/api/handovers';
  import type { ListStretch } from '$lib/api/lists';
  import { reasonOf } from '$lib/api/problems';
  import { StretchedList } from '$lib/api/stretchedList.svelte';
  import MoreLines from '$lib/components/MoreLines.svelte';
  import { whatIsInView, type InView } from '$lib/components/inView.svelte';
  import { firstLedger } from '$lib/api/ledgers';
  import { naturalBars } from '$lib/api/naturalBars';
  import { blocksInView, emptyPage } from './blocks';
  import { askedOnce } from './issue';
  import { SERVER } from './sources';

  let { pages }: { pages: ListStretch<HandoverSummary> } = $props();

  const list = new StretchedList((from) => fetchHandovers(fetch, from));
  $effect.pre(() => list.start(pages));

  let words = $state('');
  let told = $state('');
  let isBusy = $state(false);
  let removed = $state.raw<Handover>();

  const found = $derived(
    (list.items ?? []).filter(({ title, tapes, words: said, day }) =>
      words
        .toLowerCase()
        .split(/\s+/)
        .every((word) => `${title} ${tapes.join(' ')} ${day} ${said}`.toLowerCase().includes(word)),
    ),
  );

  async function attempt(what: () => Promise<void>): Promise<void> {
    told = '';
    try {
      await what();
    } catch (error) {
      told = reasonOf(error);
    }
  }

  const begin = () =>
    attempt(async () => {
      const today = new Date().toISOString().slice(0, 10);
      const { id } = await createHandover(fetch, { title: 'A new page', body: emptyPage(today) });
      await goto(`/handover/${id}`);
    });
  const view = $derived(whatIsInView());
  /** A page about the tape that is in view: by its ledger, or by the bars that it is looked at in. */
  const beginInView = ({ tape: name, ledger: id, bars, from, to }: InView) =>
    attempt(async () => {
      isBusy = true;
      try {
        const tape = await fetchTape(fetch, name);
        const { title, body } =
          id === undefined ? firstLedger(name, bars ?? naturalBars(tape)) : await fetchLedger(fetch, id);
        const blocks = await blocksInView(title, body, { from, to }, askedOnce(SERVER));
        const page = { ...emptyPage(new Date().toISOString().slice(0, 10)), blocks };
        await goto(`/handover/${(await createHandover(fetch, { title: title.slice(0, 120), body: page })).id}`);
      } finally {
        isBusy = false;
      }
    });
  const duplicate = ({ id }: HandoverSummary) =>
    attempt(async () => {
      const { title, body } = await fetchHandover(fetch, id);
      await createHandover(fetch, { title: `${title}, copy`.slice(0, 120), body });
      await invalidateAll();
    });
  const remove = (page: HandoverSummary) =>
    attempt(async () => {
      const whole = await fetchHandover(fetch, page.id);
      await deleteHandover(fetch, page);
      removed = whole;
      told = `${page.title} is deleted.`;
      await invalidateAll();
    });
  const bringBack = () =>
    attempt(async () => {
      const { title, body } = removed!;
      await createHandover(fetch, { title, body });
      removed = undefined;
      await invalidateAll();
    });
</script>

<div class="page">
  <header class="page-head">
    <div class="book">
      <strong>Jaunty Ledger</strong> <em>Hand over</em>
      <span class="acts"><Button onclick={begin}>new empty page</Button></span>
    </div>
    <h1>Pages to hand over</h1>
    {#if view}<p class="told">
        <Button look="word" disabled={isBusy} onclick={() => beginInView(view)}
          >Hand over {view.tape} as it is in view</Button
        >
        {#if isBusy}<span role="status">Taking the figures…</span>{/if}
      </p>{/if}
  </header>
  {#if list.total > 0}<Input
      class="w-[min(420px,calc(100%-40px))]!"
      type="search"
      bind:value={words}
      placeholder="find by words, tape or day"
      aria-label="Find a page"
    />{/if}
  {#if told}<p class="told" role="status">
      {told}
      {#if removed}<Button look="word" onclick={bringBack}>Bring it back</Button>{/if}
    </p>{/if}
  {#if found.length > 0}
    <div class="scrolls">
      <Table look="listing" class="w-full max-w-[980px] text-[15px]">
        <thead>
          <tr
            ><th scope="col">page</th><th scope="col">of</th><th scope="col">tapes</th><th scope="col">blocks</th><th
            ></th></tr
          >
        </thead>
        <tbody>
          {#each found as page (page.id)}
            <tr>
              <th scope="row"><a href="/handover/{page.id}">{page.title}</a></th>
              <td>{page.day || page.savedAt.slice(0, 10)}</td>
              <td>{page.tapes.join(', ')}</td>
              <td class="figure">{page.blocks}</td>
              <td class="acts"
                ><a href="/read/{page.id}" class="aside" aria-label="Read {page.title}">read</a>
                <Button class="ml-3" aria-label="Duplicate {page.title}" onclick={() => duplicate(page)}
                  >duplicate</Button
                >
                <Button class="ml-3" aria-label="Delete {page.title}" onclick={() => remove(page)}>delete</Button></td
              >
            </tr>
          {/each}
        </tbody>
      </Table>
    </div>
    <MoreLines {list} says="pages" {words} {attempt} />
  {:else}
    <p class="none">
      {#if words}None has these words.{:else}No pages yet. Press “hand over” in a ledger, or
        <Button look="word" onclick={begin}>start an empty one</Button>.{/if}
    </p>
  {/if}
</div>

<style>
  .book {
    display: flex;
    gap: 2px 8px;
    align-items: baseline;
  }
  .book .acts {
    margin-left: auto;
  }
  .page > :not(header) {
    margin: 10px 20px;
  }
  .scrolls {
    position: relative; /* holds what is hidden from sight in its cells */
    overflow-x: auto;
  }
  th,
  td {
    padding: 3px 12px 3px 0;
    text-align: left;
    font-weight: 400;
    border-bottom: 1px solid var(--rule-faint);
  }
  thead th {
    font-size: 13px;
    font-style: italic;
    color: var(--quiet);
  }
  th a {
    color: var(--ink);
    font-weight: 600;
  }
  .figure {
    text-align: right;
  }
  td.acts {
    white-space: nowrap;
    text-align: right;
  }
  td.acts .aside {
    margin-left: 12px;
  }
  .none {
    color: var(--quiet);
  }
</style>
