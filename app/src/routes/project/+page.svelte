<script lang="ts">
  import { page } from '$app/state';
  import ProjectPage from '$lib/project/ProjectPage.svelte';
  import { projectedOf, suitsLogs } from '$lib/project/projectAddress';

  let { data } = $props();

  const projected = $derived.by(() => {
    const address = page.url.searchParams;
    const { tape, entry } = data.usual;
    const isColumn = [null, 'close', entry].includes(address.get('entry'));
    const spark = data.tapes.find(({ name }) => name === (address.get('tape') ?? tape))?.spark ?? [];
    return projectedOf(address, { ...data.usual, isOfLogs: isColumn && suitsLogs(spark) });
  });
</script>

<svelte:head
  ><title>{data.kept?.title ?? `${projected.entry} of ${projected.tape}`} · Project · Jaunty Ledger</title></svelte:head
>

<ProjectPage {projected} kept={data.kept} tapes={data.tapes} />
