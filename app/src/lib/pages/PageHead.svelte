<script lang="ts" generics="Body extends PageBody">
  import Button from '$lib/components/Button.svelte';
  import Input from '$lib/components/Input.svelte';
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
  {#if keeper.kept}<Input
      class="title min-w-30 flex-1 border-transparent! focus:border-(--blue)!"
      aria-label="Title"
      value={keeper.kept.title}
      onchange={(event) => keeper.rename(event.currentTarget.value)}
    />{#if page.data.visitor}<Sharing
        path="/api/pages/{keeper.kept.id}/sharing"
        of="this page"
        choices={['change', 'read', 'nothing']}
      />{/if}{/if}
  <span class="acts">
    <Button disabled={!keeper.canUndo} onclick={() => keeper.undo()}>undo</Button>
    <Button disabled={!keeper.canRedo} onclick={() => keeper.redo()}>redo</Button>
    <Button aria-expanded={open === 'naming'} onclick={() => toggle('naming')}>{keeper.kept ? 'copy' : 'save'}</Button>
    <Button aria-expanded={open === 'kept'} onclick={() => toggle('kept')}>saved</Button>
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
      <Input
        class="min-w-65"
        name="title"
        maxlength={120}
        autofocus
        value={keeper.kept ? `${keeper.kept.title}, copy` : usualTitle}
        onkeydown={(event) => event.key === 'Escape' && (open = undefined)}
      /></label
    >
    <Button type="submit" look="word">Save</Button>
    <Button onclick={() => (open = undefined)}>close</Button>
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
    <Button look="word" onclick={() => keeper.showKept()}>Show the saved page</Button> or
    <Button look="word" onclick={() => keeper.keepShown()}>save this instead</Button>.
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
  .line {
    margin: 2px 0;
    font-size: 15px;
  }
  .problem {
    color: var(--wrong);
  }
</style>
