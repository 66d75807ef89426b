<script lang="ts">
  import TapePage from '$lib/records/TapePage.svelte';

  let { data } = $props();
</script>

<svelte:head><title>{data.tape.name} · Records · Jaunty Ledger</title></svelte:head>

<TapePage tape={data.tape} calendars={data.calendars} />
