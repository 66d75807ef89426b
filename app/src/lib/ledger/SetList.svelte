<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import { SETS } from './ledgerEdits';
  import type { LedgerDocument } from './ledgerDocument.svelte';
  import Sheet from '$lib/plots/Sheet.svelte';

  let { document, onclose }: { document: LedgerDocument; onclose: () => void } = $props();
</script>

<Sheet label="Sets to start from" {onclose}>
  <p>Add a set of entries to start from; each can be changed or removed.</p>
  <ul>
    {#each SETS as set (set.name)}
      <li>
        <Button
          look="word"
          onclick={() => {
            document.addSet(set);
            onclose();
          }}>{set.name}</Button
        >: {set.says}
      </li>
    {/each}
  </ul>
</Sheet>
