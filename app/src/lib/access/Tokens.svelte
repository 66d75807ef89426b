<script lang="ts">
  import type { Token } from '$lib/api/tokens';
  import AccessChoice from './AccessChoice.svelte';
  import { ACCESS_SAYS, dayOf } from './accessSays';

  let { tokens }: { tokens: Token[] } = $props();
</script>

<h2>Tokens</h2>
{#if tokens.length > 0}
  <table>
    <thead>
      <tr>
        <th scope="col">Token of</th>
        <th scope="col">may</th>
        <th scope="col">made</th>
        <th scope="col">last used</th>
        <th scope="col"><span class="visually-hidden">Actions</span></th>
      </tr>
    </thead>
    <tbody>
      {#each tokens as { name, access, madeAt, usedAt } (name)}
        <tr>
          <th scope="row">{name}</th>
          <td>{ACCESS_SAYS[access]}</td>
          <td>{dayOf(madeAt)}</td>
          <td>{dayOf(usedAt)}</td>
          <td>
            <form method="POST" action="?/takeBack">
              <input type="hidden" name="name" value={name} />
              <button type="submit" class="aside" aria-label="Take back the token of {name}">take back</button>
            </form>
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
{/if}
<form method="POST" action="?/make" class="make">
  <label>A token for <input name="name" required pattern="[A-Za-z0-9][A-Za-z0-9_\-]*" maxlength="40" /></label>
  <label>who <AccessChoice /></label>
  <button type="submit" class="word">Make it</button>
</form>
