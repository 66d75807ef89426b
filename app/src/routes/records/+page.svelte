<script lang="ts">
  import RecordsPage from '$lib/records/RecordsPage.svelte';

  let { data } = $props();
</script>

<svelte:head><title>Records · Jaunty Ledger</title></svelte:head>

<RecordsPage lines={data.lines} calendars={data.calendars} />
