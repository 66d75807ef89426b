<script lang="ts">
  import { page } from '$app/state';
</script>

<svelte:head><title>{page.status} · Jaunty Ledger</title></svelte:head>

<section>
  <h1>This page is not in the book.</h1>
  <p>{page.error?.message}</p>
  <p><a href="/records">Go to the records</a></p>
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
