<script lang="ts">
  import BesidePage from '$lib/beside/BesidePage.svelte';

  let { data } = $props();
</script>

<svelte:head><title>Two pages side by side · Jaunty Ledger</title></svelte:head>

<BesidePage left={data.left} right={data.right} choices={data.choices} />
