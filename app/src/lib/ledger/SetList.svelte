<script lang="ts">
  import { SETS } from './ledgerEdits';
  import type { LedgerSession } from './ledgerSession.svelte';

  let { session, onclose }: { session: LedgerSession; onclose: () => void } = $props();
</script>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<div
  class="panel"
  role="group"
  aria-label="Sets to start from"
  onkeydown={(event) => event.key === 'Escape' && onclose()}
>
  <p>Put in a set of entries to start from; each can be changed or taken out again.</p>
  <ul>
    {#each SETS as set (set.name)}
      <li>
        <button
          type="button"
          class="word"
          onclick={() => {
            session.addSet(set);
            onclose();
          }}>{set.name}</button
        >: {set.says}
      </li>
    {/each}
  </ul>
  <button type="button" class="aside" onclick={onclose}>close</button>
</div>

<style>
  .panel {
    position: absolute;
    z-index: 25;
    right: 20px;
    top: 44px;
    width: 400px;
    max-width: calc(100% - 40px);
    box-sizing: border-box;
    padding: 10px 16px;
    background: var(--paper);
    border: 1px solid var(--rule);
    border-top: 2px solid var(--ink);
    font-size: 15px;
  }
  p {
    margin: 0 0 4px;
  }
  ul {
    margin: 0 0 6px;
    padding: 0;
    list-style: none;
  }
</style>
