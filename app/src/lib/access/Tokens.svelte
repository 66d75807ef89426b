<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import Button from '$lib/components/Button.svelte';
  import Input from '$lib/components/Input.svelte';
  import type { Token } from '$lib/api/tokens';
  import AccessChoice from './AccessChoice.svelte';
  import { ACCESS_SAYS, dayOf } from './accessSays';

  let { tokens }: { tokens: Token[] } = $props();
</script>

<h2>Tokens</h2>
{#if tokens.length > 0}
  <Table look="listing">
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
              <Button type="submit" aria-label="Revoke the token of {name}">revoke</Button>
            </form>
          </td>
        </tr>
      {/each}
    </tbody>
  </Table>
{/if}
<form method="POST" action="?/make" class="make">
  <label>A token for <Input name="name" required pattern="[A-Za-z0-9][A-Za-z0-9_\-]*" maxlength={40} /></label>
  <label>who <AccessChoice /></label>
  <Button type="submit" look="word">Make it</Button>
</form>
