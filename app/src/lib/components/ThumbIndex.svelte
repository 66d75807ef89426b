<script lang="ts">
  import Button from './Button.svelte';
  import { page } from '$app/state';
  import { addressInView, restoreInView } from './inView.svelte';
  import { paper, turnPaper } from './paper.svelte';

  /** The pages of the book that are written. */
  const tabs = [
    { path: '/records', text: 'Records', also: '/calendars' },
    { path: '/ledger', text: 'Ledger', also: '/ledger' },
    { path: '/examine', text: 'Examine', also: '/examine' },
    { path: '/project', text: 'Project', also: '/project' },
    { path: '/compare', text: 'Compare', also: '/roll' },
    { path: '/handover', text: 'Hand over', also: '/handover' },
  ];

  $effect(() => restoreInView());
</script>

<nav aria-label="Pages" class:crowded={page.data.visitor}>
  {#each tabs as { path, text, also } (path)}
    {@const here = [path, also].some((start) => page.url.pathname.startsWith(start))}
    <a href={addressInView(path)} class:here aria-current={here ? 'page' : undefined}><span>{text}</span></a>
  {/each}
  {#if page.data.visitor}
    {#each page.data.visitor.access === 'keep' ? ['Access', 'Account'] : ['Account'] as name (name)}
      {@const path = `/${name.toLowerCase()}`}
      <a class="help" href={path} aria-current={page.url.pathname === path ? 'page' : undefined}>{name}</a>
    {/each}
  {/if}
  <a class="help" href="/help" aria-current={page.url.pathname === '/help' ? 'page' : undefined}>Help</a>
  <Button
    class="mb-4 ml-2 p-1 text-[13px] max-[700px]:m-0 max-[700px]:mb-1 max-[700px]:whitespace-nowrap"
    onclick={turnPaper}
    aria-pressed={paper.shown === 'night'}
  >
    <span>{paper.shown === 'night' ? 'Light' : 'Dark'}</span>
  </Button>
</nav>

<style>
  nav {
    background: var(--edge);
    padding-top: 64px;
    display: flex;
    flex-direction: column;
    gap: 12px;
    align-items: flex-start;
    position: sticky;
    top: 0;
    height: 100dvh;
    box-sizing: border-box;
  }
  /* one link more, to who gets in */
  .crowded {
    padding-top: 20px;
    gap: 8px;
  }
  a {
    flex: none;
    width: 50px;
    height: 84px;
    margin-left: -1px;
    display: grid;
    place-items: center;
    background: var(--paper-raised);
    border: 1px solid var(--rule);
    border-left-color: var(--rule);
    border-radius: 0 9px 9px 0;
    color: var(--quiet);
    text-decoration: none;
  }
  a:hover {
    color: var(--ink);
  }
  a.here {
    width: 58px;
    background: var(--paper);
    border-left-color: var(--paper);
    color: var(--ink);
    font-weight: 600;
  }
  span {
    writing-mode: vertical-rl;
  }
  .help,
  .help:hover {
    margin: auto 0 0 8px;
    width: auto;
    height: auto;
    padding: 4px;
    background: none;
    border: 0;
    font-size: 13px;
    writing-mode: vertical-rl;
  }
  /* a low window has room for all tabs where they are no longer than their words */
  @media (max-height: 760px) and (min-width: 701px) {
    nav {
      padding-top: 12px;
      gap: 5px;
      overflow-y: auto;
    }
    a:not(.help) {
      height: auto;
      padding: 8px 0;
    }
  }
  @media print {
    nav {
      display: none;
    }
  }
  @media (max-width: 700px) {
    nav {
      position: static;
      height: auto;
      padding: 8px 6px 0;
      flex-flow: row wrap;
      gap: 4px 3px;
      border-bottom: 1px solid var(--rule);
      align-items: flex-end;
    }
    a,
    a.here {
      width: auto;
      height: 34px;
      padding: 0 7px;
      font-size: 14px;
      margin: 0 0 -1px;
      border: 1px solid var(--rule);
      border-radius: 8px 8px 0 0;
    }
    a.here {
      border-bottom-color: var(--paper);
    }
    span {
      writing-mode: horizontal-tb;
    }
    .help,
    .help:hover {
      writing-mode: horizontal-tb;
      margin: 0 0 4px auto;
    }
  }
</style>
