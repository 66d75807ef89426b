<script lang="ts" generics="Body extends PageBody">
  import type { Snippet } from 'svelte';
  import { page } from '$app/state';
  import Sharing from '$lib/access/Sharing.svelte';
  import type { PageBody } from '$lib/api/pages';
  import KeptPages from './KeptPages.svelte';
  import type { PageKeeper } from './pageKeeper.svelte';
  import { stepKeys } from './stepKeys';

  interface Props {
    keeper: PageKeeper<Body>;
    /** The page's name in the book, and what its kept ones are called. */
    name: string;
    several: string;
    /** A name to begin with where it is kept. */
    usualTitle: string;
    /** Acts of its own. */
    acts?: Snippet;
  }
  let { keeper, name, several, usualTitle, acts }: Props = $props();

  let open = $state<'kept' | 'naming'>();
  const toggle = (what: NonNullable<typeof open>) => (open = open === what ? undefined : what);

  async function keep(title: string): Promise<void> {
    open = undefined;
    if (title.trim()) await keeper.keep(title.trim());
  }
</script>

<svelte:window onkeydown={stepKeys(keeper)} onpagehide={() => keeper.flush()} />

<div class="book">
  <strong>Jaunty Ledger</strong> <em>{name}</em>
  {#if keeper.kept}<input
      class="title"
      aria-label="Title"
      value={keeper.kept.title}
      onchange={(event) => keeper.rename(event.currentTarget.value)}
    />{#if page.data.visitor}<Sharing
        path="/api/pages/{keeper.kept.id}/sharing"
        of="this page"
        choices={['change', 'read', 'nothing']}
      />{/if}{/if}
  <span class="acts">
    <button type="button" class="aside" disabled={!keeper.canUndo} onclick={() => keeper.undo()}>undo</button>
    <button type="button" class="aside" disabled={!keeper.canRedo} onclick={() => keeper.redo()}>redo</button>
    <button type="button" class="aside" aria-expanded={open === 'naming'} onclick={() => toggle('naming')}
      >{keeper.kept ? 'copy' : 'save'}</button
    >
    <button type="button" class="aside" aria-expanded={open === 'kept'} onclick={() => toggle('kept')}>saved</button>
    {@render acts?.()}
  </span>
</div>
{#if open === 'naming'}
  <form
    class="line"
    onsubmit={(event) => {
      event.preventDefault();
      void keep(String(new FormData(event.currentTarget).get('title')));
    }}
  >
    <label
      >save as
      <!-- svelte-ignore a11y_autofocus -->
      <input
        name="title"
        maxlength="120"
        autofocus
        value={keeper.kept ? `${keeper.kept.title}, copy` : usualTitle}
        onkeydown={(event) => event.key === 'Escape' && (open = undefined)}
      /></label
    >
    <button type="submit" class="word">Save</button>
    <button type="button" class="aside" onclick={() => (open = undefined)}>close</button>
  </form>
{/if}
{#if open === 'kept'}<KeptPages
    kind={keeper.kind}
    says={several}
    open={keeper.kept?.id}
    onclose={() => (open = undefined)}
  />{/if}
{#if keeper.problem}<p class="line problem" role="alert">Not saved: {keeper.problem}</p>{/if}
{#if keeper.isAstray}
  <p class="line" role="status">
    This address differs from the saved page <em>{keeper.kept!.title}</em>.
    <button type="button" class="word" onclick={() => keeper.showKept()}>Show the saved page</button> or
    <button type="button" class="word" onclick={() => keeper.keepShown()}>save this instead</button>.
  </p>
{/if}

<style>
  .book {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 12px;
    align-items: baseline;
    font-size: 16px;
    margin-bottom: 4px;
  }
  em {
    color: var(--quiet);
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 12px;
    margin-left: auto;
  }
  .acts button:disabled {
    opacity: 0.45;
    text-decoration: none;
    cursor: default;
  }
  .title {
    flex: 1;
    min-width: 120px;
    font: inherit;
    color: var(--ink);
    background: none;
    border: 0;
    padding: 0;
  }
  .title:focus {
    box-shadow: none;
    outline: 0;
    border-bottom: 1px solid var(--blue);
  }
  .line {
    margin: 2px 0;
    font-size: 15px;
  }
  .line input {
    font: inherit;
    color: var(--ink);
    background: none;
    border: 0;
    border-bottom: 1px solid var(--rule);
    min-width: 260px;
  }
  .problem {
    color: var(--wrong);
  }
</style>
