<script lang="ts">
  import { page } from '$app/state';
  import { memberText } from '$lib/works/comparison/work';
  import ComparePage from '$lib/compare/ComparePage.svelte';
  import { comparedOf } from '$lib/compare/compareAddress';

  let { data } = $props();

  const compared = $derived(comparedOf(page.url.searchParams, data.usual, data.tapes));
  const names = $derived(compared.members.slice(0, 4).map(memberText).join(', '));
</script>

<svelte:head><title>{data.kept?.title ?? names} · Compare · Jaunty Ledger</title></svelte:head>

<ComparePage asked={compared} kept={data.kept} tapes={data.tapes} />
