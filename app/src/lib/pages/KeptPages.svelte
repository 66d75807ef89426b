<script lang="ts" generics="Body extends PageBody">
  import Button from '$lib/components/Button.svelte';
  import Input from '$lib/components/Input.svelte';
  import { createPage, deletePage, fetchPages } from '$lib/api/client';
  import { aboutOf, type KeptPage, type PageBody } from '$lib/api/pages';
  import { reasonOf } from '$lib/api/problems';
  import { StretchedList } from '$lib/api/stretchedList.svelte';
  import MoreLines from '$lib/components/MoreLines.svelte';
  import Sheet from '$lib/plots/Sheet.svelte';
  import { dateText } from '$lib/records/shelfModel';
  import type { PageKind } from './pageKeeper.svelte';

  interface Props {
    kind: PageKind<Body>;
    /** What such pages are called, several of them. */
    says: string;
    /** The number of the page that is open. */
    open: number | undefined;
    onclose: () => void;
  }
  let { kind, says, open, onclose }: Props = $props();

  const list = new StretchedList((from) => fetchPages(fetch, from));
  const pages = $derived(list.items);
  let told = $state('');
  let removed = $state.raw<KeptPage>();
  let words = $state('');
  const found = $derived(
    pages?.filter(
      ({ title, body }) =>
        body.page === kind.page &&
        [title, aboutOf(body).says].join(' ').toLowerCase().includes(words.trim().toLowerCase()),
    ) ?? [],
  );

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

  const remove = (page: KeptPage) =>
    attempt(async () => {
      await deletePage(fetch, page);
      list.remove(page.id);
      told = `${page.title} is deleted.`;
      removed = page;
    });

  const bringBack = () =>
    attempt(async () => {
      await createPage(fetch, { title: removed!.title, body: removed!.body });
      removed = undefined;
      await load();
    });
</script>

<Sheet label="Saved {says}" widthPx={560} {onclose}>
  <h2>Saved {says}</h2>
  {#if !pages && !told}<p>Loading…</p>{/if}
  {#if pages && pages.length > 5}<Input
      class="w-full!"
      type="search"
      bind:value={words}
      placeholder="find by title, tape or formula"
      aria-label="Find a saved page"
    />{/if}
  <ul>
    {#each found as page (page.id)}
      <li>
        <a
          href={kind.addressOf(page.body as Body, page.id)}
          aria-current={page.id === open ? 'true' : undefined}
          onclick={onclose}>{page.title}</a
        >
        <span>{aboutOf(page.body).says}</span>
        <time datetime={page.savedAt}>{dateText(page.savedAt, 'day')}</time>
        <Button aria-label="Delete {page.title}" onclick={() => remove(page)}>delete</Button>
      </li>
    {/each}
  </ul>
  {#if pages && found.length === 0}<p>
      {words ? 'None has these words.' : 'None saved yet. `save` saves this one under a name.'}
    </p>{/if}
  <MoreLines {list} says="pages" {words} {attempt} />
  {#if told}<p role="status">
      {told}
      {#if removed}<Button look="word" onclick={bringBack}>Bring it back</Button>{/if}
    </p>{/if}
</Sheet>

<style>
  h2 {
    font-size: 16px;
    margin: 0 0 4px;
  }
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  li {
    display: grid;
    grid-template-columns: minmax(0, 1.2fr) minmax(0, 1fr) auto auto;
    gap: 10px;
    align-items: baseline;
    border-bottom: 1px solid var(--rule-faint);
    padding: 2px 0;
  }
  li :is(a, span) {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  li a {
    color: var(--ink);
  }
  li a[aria-current] {
    font-weight: 600;
  }
  li :is(span, time) {
    color: var(--quiet);
    font-size: 13px;
  }
</style>
