<script lang="ts">
  import HelpPage from '$lib/help/HelpPage.svelte';

  let { data } = $props();
</script>

<svelte:head><title>Help · Jaunty Ledger</title></svelte:head>
<HelpPage tape={data.tape} />
