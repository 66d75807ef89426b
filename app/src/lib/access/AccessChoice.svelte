<script lang="ts">
  import Select from '$lib/components/Select.svelte';
  import type { Access } from '$lib/api/tokens';
  import { ACCESS_SAYS } from './accessSays';

  let { value = 'read', label }: { value?: Access; label?: string } = $props();
</script>

<Select name="access" aria-label={label}>
  {#each Object.entries(ACCESS_SAYS) as [access, says] (access)}
    <option value={access} selected={access === value}>{says}</option>
  {/each}
</Select>
