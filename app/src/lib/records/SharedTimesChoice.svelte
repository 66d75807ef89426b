<script lang="ts">
  import type { SharedTimes } from '$lib/api/tapes';

  interface Props {
    value: SharedTimes;
    onchange?: (chosen: SharedTimes) => void;
  }
  let { value = $bindable(), onchange }: Props = $props();

  const TEXTS: Record<SharedTimes, string> = {
    record: 'a single row',
    last: 'the last of its rows',
    first: 'the first of its rows',
    sum: 'the sum of its rows',
    mean: 'the mean of its rows',
  };
</script>

<select class="word" aria-label="A bar where rows share a time" bind:value onchange={() => onchange?.(value)}>
  {#each Object.entries(TEXTS) as [choice, text] (choice)}<option value={choice}>{text}</option>{/each}
</select>
