<script lang="ts">
  import { sentence } from '$lib/api/sentence';

  /** A message of the core or the server; what stands between back quotes is set as it would be typed. */
  let { text }: { text: string } = $props();

  const parts = $derived(sentence(text).split('`'));
</script>

{#each parts as part, index (index)}{#if index % 2 === 1}<code>{part}</code>{:else}{part}{/if}{/each}

<style>
  code {
    font-family: var(--mono);
    font-size: 0.88em;
  }
</style>
