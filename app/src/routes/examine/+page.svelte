<script lang="ts">
  import { page } from '$app/state';
  import ExaminePage from '$lib/examine/ExaminePage.svelte';
  import { examinedOf } from '$lib/examine/examineAddress';

  let { data } = $props();

  const examined = $derived(examinedOf(page.url.searchParams, data.usual));
</script>

<svelte:head
  ><title>{data.kept?.title ?? `${examined.entry} of ${examined.tape}`} · Examine · Jaunty Ledger</title></svelte:head
>

<ExaminePage {examined} kept={data.kept} tapes={data.tapes} />
