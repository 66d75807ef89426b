<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import { page } from '$app/state';
  import { forgetInView } from '$lib/components/inView.svelte';

  const isMissing = $derived(page.status === 404);
  // the tabs would lead here again where a tape or a ledger is gone
  $effect(() => {
    if (isMissing) forgetInView();
  });
</script>

<svelte:head><title>{isMissing ? 'Not found' : 'Something went wrong'} · Jaunty Ledger</title></svelte:head>

<section>
  {#if isMissing}
    <h1>There is no such page.</h1>
    <p>{page.error?.message}</p>
    <p><a href="/records">Go to the records</a></p>
  {:else}
    <h1>Unexpected error.</h1>
    <p>{page.error?.message} Saved work is not affected.</p>
    <p>
      <Button look="word" onclick={() => location.reload()}>Try again</Button>, or
      <a href="/records">go to the records</a>. The server log tells more.
    </p>
  {/if}
</section>

<style>
  section {
    padding: 48px 20px;
    max-width: 40rem;
  }
  h1 {
    font-size: 26px;
  }
</style>
