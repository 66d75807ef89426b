<script lang="ts">
  import { page } from '$app/state';
  import ProjectPage from '$lib/project/ProjectPage.svelte';
  import { projectedOf } from '$lib/project/projectAddress';

  let { data } = $props();

  const projected = $derived(projectedOf(page.url.searchParams, data.usual));
</script>

<svelte:head
  ><title>{data.kept?.title ?? `${projected.entry} of ${projected.tape}`} · Project · Jaunty Ledger</title></svelte:head
>

<ProjectPage {projected} kept={data.kept} tapes={data.tapes} />
