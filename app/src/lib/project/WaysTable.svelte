<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import type { ToldModel } from '$lib/works/projection/work';

  let { models }: { models: readonly ToldModel[] } = $props();
</script>

<Table look="listing" class="mt-2.5">
  <thead
    ><tr
      ><th scope="col">down, level or up</th>{#each models[0]?.ways ?? [] as { ahead } (ahead)}<th scope="col"
          >{ahead}</th
        >{/each}</tr
    ></thead
  >
  <tbody>
    {#each models as { model, ways } (model)}
      <tr
        ><th scope="row">{model}</th>{#each ways as { ahead, way } (ahead)}<td
            class:strong={way === 'up' || way === 'down'}>{way === 'unknown' ? '' : way}</td
          >{/each}</tr
      >
    {/each}
  </tbody>
</Table>
<p class="quiet">Level: the 95 % interval contains the last value.</p>

<style>
  .strong {
    font-weight: 600;
  }
</style>
