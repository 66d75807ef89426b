<script lang="ts">
  import LedgerPage from '$lib/ledger/LedgerPage.svelte';

  let { data } = $props();
</script>

<svelte:head><title>{data.ledger.title} · Jaunty Ledger</title></svelte:head>

{#key data.ledger.id}
  <LedgerPage ledger={data.ledger} tapes={data.tapes} kept={data.kept} />
{/key}
