<script lang="ts">
  import HandoverList from '$lib/handover/HandoverList.svelte';

  let { data } = $props();
</script>

<svelte:head><title>Hand over · Jaunty Ledger</title></svelte:head>

<HandoverList pages={data.pages} />
