<script lang="ts">
  import LedgerPage from '$lib/ledger/LedgerPage.svelte';

  let { data } = $props();
</script>

<svelte:head><title>{data.draft.title} · Jaunty Ledger</title></svelte:head>

{#key data.draft.body.tape}
  <LedgerPage ledger={data.draft} tapes={data.tapes} kept={data.kept} />
{/key}
