<script lang="ts">
  import HandoverPage from '$lib/handover/HandoverPage.svelte';

  let { data } = $props();
</script>

<svelte:head><title>{data.page.title} · Jaunty Ledger</title></svelte:head>

{#key data.page.id}<HandoverPage page={data.page} ledgers={data.ledgers} tapes={data.tapes} />{/key}
