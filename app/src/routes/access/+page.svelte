<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import AccessPage from '$lib/access/AccessPage.svelte';
  import Acts from '$lib/access/Acts.svelte';
  import People from '$lib/access/People.svelte';
  import Tokens from '$lib/access/Tokens.svelte';

  let { data, form } = $props();
</script>

<svelte:head><title>Who gets in · Jaunty Ledger</title></svelte:head>

<AccessPage>
  <h1>Who gets in</h1>
  {#if data.isShut}
    <p>
      People sign in by their names; tokens let programs in, and whoever has one. A password or a token that is taken
      back stops working at once, also for those who are signed in with it.
    </p>
    <form method="POST" action="?/signOut"><Button type="submit" look="word">Sign out</Button></form>
  {:else}
    <p>
      This server asks nobody who he is, and only programs on this machine reach it. Start it with
      <code>JAUNTY_TOKEN</code> and another <code>HOST</code> to open it to others; names and tokens are asked for then.
    </p>
  {/if}
  {#if form?.problem}<p class="problem" role="alert">{form.problem}</p>{/if}
  {#if form && 'made' in form && form.made}
    <p role="status">
      The token of {form.made.name} is <code>{form.made.token}</code>. It is shown this once: hand it on now.
    </p>
  {/if}
  <People people={data.people} />
  <Tokens tokens={data.tokens} />
  {#if data.acts.length > 0}<Acts acts={data.acts} />{/if}
</AccessPage>
