<script lang="ts">
  import Select from '$lib/components/Select.svelte';
  import type { SharedTimes } from '$lib/api/tapes';

  interface Props {
    value: SharedTimes;
    onchange?: (chosen: SharedTimes) => void;
  }
  let { value = $bindable(), onchange }: Props = $props();

  const TEXTS: Record<SharedTimes, string> = {
    record: 'each row separately',
    last: 'the last value',
    first: 'the first value',
    sum: 'the sum',
    mean: 'the mean',
  };
</script>

<Select look="word" aria-label="What bars show where rows share a time" bind:value onchange={() => onchange?.(value)}>
  {#each Object.entries(TEXTS) as [choice, text] (choice)}<option value={choice}>{text}</option>{/each}
</Select>
