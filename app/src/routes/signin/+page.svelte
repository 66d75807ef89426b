<script lang="ts">
  import { onMount } from 'svelte';

  let { data, form } = $props();

  // a link from elsewhere comes without the cookie of who is signed in already; asked for from here it is sent
  onMount(async () => {
    const answer = await fetch('/api/tapes', { method: 'HEAD' });
    if (answer.ok) location.replace(data.to);
  });
</script>

<svelte:head><title>Sign in · Jaunty Ledger</title></svelte:head>

<section>
  <h1>Sign in</h1>
  <form method="POST">
    <p>
      <label>Your token <input name="token" type="password" autocomplete="current-password" required /></label>
      <button type="submit" class="word">sign in</button>
    </p>
    {#if form?.problem}<p class="problem" role="alert">{form.problem}</p>{/if}
    <p class="hint">You need a token to sign in. Ask whoever runs this server for one.</p>
  </form>
</section>

<style>
  section {
    padding: 48px 20px;
    max-width: 40rem;
    font-size: 16px;
  }
  h1 {
    font-size: 26px;
    font-weight: 400;
  }
  input {
    font: inherit;
    color: var(--ink);
    background: none;
    border: 0;
    border-bottom: 1px solid var(--rule);
    width: 20rem;
    max-width: 100%;
  }
  .problem {
    color: var(--wrong);
  }
  .hint {
    color: var(--quiet);
    font-size: 14px;
  }
</style>
