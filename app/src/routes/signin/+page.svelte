<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Input from '$lib/components/Input.svelte';
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
      <label
        >your name <Input
          class="w-80! max-w-full"
          name="name"
          autocomplete="username"
          maxlength={40}
          value={form?.name ?? ''}
        /></label
      >
    </p>
    <p>
      <label>
        password or token <Input name="token" type="password" autocomplete="current-password" required />
      </label>
      <Button type="submit" look="word">Sign in</Button>
    </p>
    {#if form?.problem}<p class="problem" role="alert">{form.problem}</p>{/if}
    <p class="hint">
      With a token, leave the name empty. The administrator of this server gives you a password or a token.
    </p>
  </form>
  {#if data.provider}
    <p>
      <a href="/signin/provider/start?{new URLSearchParams({ to: data.to })}" data-sveltekit-reload>
        Sign in at {data.provider}
      </a>
    </p>
    {#if data.canSignOutThere}
      <p class="hint">
        You are signed out here, but perhaps not at {data.provider}.
        <a href="/signin/provider/end" data-sveltekit-reload>Sign out at {data.provider} too</a>
      </p>
    {/if}
  {/if}
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
  p {
    margin: 12px 0;
  }
  label {
    display: inline-grid;
    grid-template-columns: 9.5rem auto;
    align-items: baseline;
  }
  .problem {
    color: var(--wrong);
  }
  .hint {
    color: var(--quiet);
    font-size: 14px;
  }
</style>
