<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Textarea from '$lib/components/Textarea.svelte';
  import './handed.css';
  import { tick } from 'svelte';
  import { goto } from '$app/navigation';
  import { createHandover } from '$lib/api/client';
  import type { Block, Handover } from '$lib/api/handovers';
  import type { Ledger } from '$lib/api/ledgers';
  import type { Tape } from '$lib/api/tapes';
  import { reasonOf } from '$lib/api/problems';
  import { keepPage } from '$lib/pages/keepPage.svelte';
  import { stepKeys } from '$lib/pages/stepKeys';
  import BlockChoices from './BlockChoices.svelte';
  import { blockHtml } from './blockHtml';
  import { blockTitle, type HandedOver } from './blocks';
  import { appendixHtml, bylineText, PAPER_INKS, pageStyle } from './documentHtml';
  import { HANDOVER } from './handoverDocuments';
  import HandoverHead from './HandoverHead.svelte';
  import { askedOnce, isAsking, nextIssue, withFiguresOf, withToday } from './issue';
  import PutIn from './PutIn.svelte';
  import { SERVER } from './sources';

  let { page, ledgers, tapes }: { page: Handover; ledgers: readonly Ledger[]; tapes: readonly Tape[] } = $props();

  const keeper = keepPage(
    HANDOVER,
    () => page.body,
    () => page,
    { isInAddress: false },
  );
  const body = $derived(keeper.now);
  const title = $derived(keeper.kept?.title ?? page.title);
  let chosen = $state('');
  let told = $state('');
  let isBusy = $state(false);
  let dragged = $state('');
  const block = $derived(body.blocks.find(({ id }) => id === chosen));

  const setBlocks = (blocks: Block[], group = '') => keeper.change({ blocks }, group);
  const setBlock = (next: Block, group = '') =>
    setBlocks(
      body.blocks.map((one) => (one.id === next.id ? next : one)),
      group,
    );

  async function attempt(what: () => Promise<void>): Promise<void> {
    told = '';
    isBusy = true;
    try {
      await what();
    } catch (error) {
      told = reasonOf(error);
    }
    isBusy = false;
  }

  const put = (make: HandedOver['make']) =>
    attempt(async () => {
      const made = await make(askedOnce(SERVER));
      const at = body.blocks.findIndex(({ id }) => id === chosen);
      const place = at < 0 ? body.blocks.length : at + 1;
      setBlocks([...body.blocks.slice(0, place), ...made, ...body.blocks.slice(place)]);
      chosen = made[made.length - 1].id;
      await tick();
      document.getElementById(`block-${chosen}`)?.scrollIntoView({ block: 'nearest' });
    });

  /** Moves a block by so many places, as far as there are any. */
  function move(id: string, by: number): void {
    const from = body.blocks.findIndex((one) => one.id === id);
    const to = Math.max(0, Math.min(body.blocks.length - 1, from + by));
    if (from < 0 || to === from) return;
    const blocks = body.blocks.filter((one) => one.id !== id);
    blocks.splice(to, 0, body.blocks[from]);
    setBlocks(blocks);
  }
  function remove(id: string): void {
    setBlocks(body.blocks.filter((one) => one.id !== id));
    chosen = '';
  }
  function keyOn(event: KeyboardEvent, id: string): void {
    const by = { ArrowUp: -1, ArrowDown: 1 }[event.key];
    if (by !== undefined && event.altKey) {
      event.preventDefault();
      move(id, by);
    } else if (event.key === 'Delete') {
      event.preventDefault();
      remove(id);
    }
  }
  function dropOn(id: string): void {
    const [from, to] = [dragged, id].map((one) => body.blocks.findIndex((other) => other.id === one));
    dragged = '';
    if (from >= 0 && to >= 0) move(body.blocks[from].id, to - from);
  }

  /** Takes a block's figures anew. */
  const refresh = (of: Block) =>
    attempt(async () => {
      if (!isAsking(of)) return;
      const given = await withToday(of, SERVER, new Date().toISOString());
      const now = withFiguresOf(
        body.blocks.find(({ id }) => id === of.id),
        of,
        given,
      );
      if (now) setBlock(now);
    });

  const again = () =>
    attempt(async () => {
      keeper.flush();
      const next = await nextIssue(body, SERVER, new Date().toISOString());
      const named = title.replace(/, \d{4}-\d{2}-\d{2}$/, '');
      const { id } = await createHandover(fetch, { title: `${named}, ${next.day}`.slice(0, 120), body: next });
      await goto(`/handover/${id}`);
    });

  /** Paper is white, whatever the page on the screen is. */
  const DAY_IN_PRINT = `@media print { ${PAPER_INKS.replace(':root', ":root[data-paper='night']")} }`;
  // what print has on each page depends on the title
  $effect(() => {
    const style = document.createElement('style');
    style.textContent = pageStyle(title) + DAY_IN_PRINT;
    document.head.append(style);
    return () => style.remove();
  });
</script>

<svelte:window onkeydown={stepKeys(keeper)} onpagehide={() => keeper.flush()} />
<div class="page">
  <HandoverHead {keeper} id={page.id} {title} {isBusy} {again} />
  {#if told || keeper.problem}<p class="problem" role="alert">{told || keeper.problem}</p>{/if}
  {#if body.changes.length > 0}<div class="changes" role="note">
      <strong>Since the issue before</strong>
      <ul>
        {#each body.changes as change, at (at)}<li>{change}</li>{/each}
      </ul>
      <Button onclick={() => keeper.change({ changes: [] })}>dismiss</Button>
    </div>{/if}
  <div class="three" aria-busy={isBusy}>
    <nav class="left" aria-label="Blocks">
      <PutIn {ledgers} blocks={body.blocks} disabled={isBusy} {put} />
      <h2>Blocks</h2>
      <ol>
        {#each body.blocks as one, at (one.id)}
          <li
            draggable="true"
            class:over={dragged !== '' && dragged !== one.id}
            ondragstart={() => (dragged = one.id)}
            ondragover={(event) => event.preventDefault()}
            ondrop={() => dropOn(one.id)}
          >
            <Button
              look="bare"
              class={[
                'w-full overflow-hidden py-0.5 text-ellipsis whitespace-nowrap text-(--quiet) hover:font-semibold hover:text-(--ink)',
                chosen === one.id && 'font-semibold text-(--ink)',
              ]}
              aria-pressed={chosen === one.id}
              title="Alt with the arrow keys moves it, Delete takes it out"
              onkeydown={(event) => keyOn(event, one.id)}
              onclick={() => (chosen = chosen === one.id ? '' : one.id)}>{at + 1}&ensp;{blockTitle(one)}</Button
            >
          </li>
        {/each}
      </ol>
    </nav>
    <main class="paper">
      <article class="handed" aria-label="The page">
        <h1>{title}</h1>
        {#if bylineText(body)}<p class="byline">{bylineText(body)}</p>{/if}
        {#each body.blocks as one, at (one.id)}
          <section id="block-{one.id}" class="block {one.kind}" class:chosen={chosen === one.id}>
            {#if chosen === one.id && one.kind === 'paragraph'}
              <Textarea
                class="min-h-[5lh] border! border-(--rule)! bg-(--paper-raised)! px-2 py-1.5 print:hidden"
                autofocus
                rows={6}
                maxlength={8000}
                aria-label="Words of the paragraph"
                placeholder={'Write here. {last close} or any formula in braces is a figure; # in front makes a heading.'}
                value={one.text}
                onchange={(event) => {
                  const next = { ...one, text: event.currentTarget.value, isDrafted: false };
                  setBlock(next);
                  void refresh(next);
                }}
              ></Textarea>
            {/if}
            <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
            <div class="shown" onclick={() => (chosen = one.id)}>
              <!-- eslint-disable-next-line svelte/no-at-html-tags -- blocks are written with all words escaped -->
              {@html blockHtml(one, body.blocks[at - 1]) || '<p class="none">An empty paragraph.</p>'}
            </div>
          </section>
        {:else}
          <p class="none">
            This page is empty. Insert a chart, a drafted paragraph or a table of a ledger on the left.
          </p>
        {/each}
        <!-- eslint-disable-next-line svelte/no-at-html-tags -- written with all words escaped -->
        {@html appendixHtml(body)}
      </article>
    </main>
    <aside class="right" aria-label="The block">
      {#if block}
        <BlockChoices
          page={page.id}
          {tapes}
          {block}
          {isBusy}
          change={setBlock}
          {refresh}
          move={(by) => move(block.id, by)}
          remove={() => remove(block.id)}
        />
      {:else}<p class="quiet">Press a block to edit it.</p>{/if}
    </aside>
  </div>
</div>

<style>
  .problem,
  .changes {
    margin: 0;
    padding: 8px 20px;
    font-size: 14px;
  }
  .problem {
    color: var(--wrong);
  }
  .changes ul {
    margin: 2px 0;
    padding-left: 18px;
    columns: 2;
  }
  .three {
    display: grid;
    grid-template-columns: 230px minmax(0, 1fr) 300px;
  }
  .left,
  .right {
    padding: 10px 16px 20px 20px;
    font-size: 14px;
    min-width: 0;
  }
  .three :global(h2) {
    font-size: 14px;
    margin: 10px 0 4px;
  }
  .three :global(.quiet) {
    font-size: 13px;
    color: var(--quiet);
    margin: 2px 0;
  }
  ol {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  .item {
    width: 100%;
    text-align: left;
    font: inherit;
    color: var(--quiet);
    background: none;
    border: 0;
    padding: 2px 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .item:hover {
    color: var(--ink);
    font-weight: 600;
  }
  .over:hover {
    border-top: 2px solid var(--ink);
  }
  .paper {
    padding: 14px 0 60px;
    border-inline: 1px solid var(--rule);
    min-width: 0;
  }
  .paper .handed {
    max-width: 600px;
    margin: 0 auto;
    padding: 0 20px;
  }
  .block {
    position: relative;
    scroll-margin: 20px;
  }
  .block.chosen::before {
    content: '';
    position: absolute;
    inset: 0 auto 0 -14px;
    border-left: 4px double var(--margin-rule);
  }
  .shown {
    cursor: pointer;
  }
  .paper :global(.none) {
    color: var(--quiet);
    font-style: italic;
  }
  @media (max-width: 1000px) {
    .three {
      grid-template-columns: minmax(0, 1fr);
    }
    .paper {
      border-inline: 0;
      border-block: 1px solid var(--rule);
    }
  }
  @media print {
    .left,
    .right,
    .problem,
    .changes {
      display: none !important;
    }
    .three {
      display: block;
    }
    .paper,
    .paper .handed {
      border: 0;
      padding: 0;
      max-width: none;
    }
    .block.chosen::before {
      display: none;
    }
  }
</style>
