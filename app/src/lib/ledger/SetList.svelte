<script lang="ts">
  import { SETS } from './ledgerEdits';
  import type { LedgerSession } from './ledgerSession.svelte';
  import Sheet from './Sheet.svelte';

  let { session, onclose }: { session: LedgerSession; onclose: () => void } = $props();
</script>

<Sheet label="Sets to start from" {onclose}>
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
</Sheet>
