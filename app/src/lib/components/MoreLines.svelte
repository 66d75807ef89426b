<script lang="ts" generics="Item extends { id: number }">
  import Button from './Button.svelte';
  import { untrack } from 'svelte';
  import type { StretchedList } from '$lib/api/stretchedList.svelte';

  /** Finds while one types, not at each key. */
  const FIND_AFTER_MS = 200;

  interface Props {
    list: StretchedList<Item>;
    /** What the lines of the list are called, several of them. */
    says: string;
    /** Words that are looked for, also among lines that are not here yet. */
    words: string;
    /** Runs what may fail, and shows why it did. */
    attempt: (what: () => Promise<void>) => Promise<void>;
  }
  let { list, says, words, attempt }: Props = $props();

  $effect(() => {
    if (untrack(() => list.more) === 0 || words.trim() === '') return;
    const find = words;
    const asking = setTimeout(() => void attempt(() => list.find(find)), FIND_AFTER_MS);
    return () => clearTimeout(asking);
  });
</script>

{#if list.more > 0}
  <p>
    {(list.items?.length ?? 0).toLocaleString('en')} of {list.total.toLocaleString('en')}
    {says} are shown.
    <Button look="word" onclick={() => attempt(() => list.loadMore())}>Show more</Button>
  </p>
{/if}
