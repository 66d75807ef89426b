<script lang="ts">
  import { page } from '$app/state';
  import { entriesOf, rolledOf } from '$lib/roll/rollAddress';
  import type { Ledger } from '$lib/api/ledgers';
  import RollPage from '$lib/roll/RollPage.svelte';

  let { data } = $props();

  const usual = $derived.by(() => {
    const last = data.ledgers.find((ledger: Ledger) => entriesOf(ledger).length > 0);
    return { bars: last?.body.rule ?? '1 day', entries: last ? entriesOf(last).slice(0, 8) : [] };
  });
  const rolled = $derived(rolledOf(page.url.searchParams, usual));
</script>

<svelte:head><title>{data.kept?.title ?? 'The roll'} · Compare · Jaunty Ledger</title></svelte:head>

<RollPage {rolled} kept={data.kept} tapes={data.tapes} ledgers={data.ledgers} />
