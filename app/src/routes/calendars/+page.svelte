<script lang="ts">
  import CalendarsPage from '$lib/records/CalendarsPage.svelte';

  let { data } = $props();
</script>

<svelte:head><title>Calendars · Jaunty Ledger</title></svelte:head>

<CalendarsPage calendars={data.calendars} />
