<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import Button from '$lib/components/Button.svelte';
  import Input from '$lib/components/Input.svelte';
  import { LEAST_PASSWORD, type Person } from '$lib/api/people';
  import AccessChoice from './AccessChoice.svelte';
  import { dayOf } from './accessSays';

  let { people }: { people: Person[] } = $props();
</script>

<h2>People</h2>
{#if people.length > 0}
  <Table look="listing">
    <thead>
      <tr>
        <th scope="col">Name</th>
        <th scope="col">may</th>
        <th scope="col">signs in</th>
        <th scope="col">since</th>
        <th scope="col">last here</th>
        <th scope="col"><span class="visually-hidden">Actions</span></th>
      </tr>
    </thead>
    <tbody>
      {#each people as { name, access, signsIn, madeAt, usedAt } (name)}
        <tr>
          <th scope="row">{name}</th>
          <td>
            <form method="POST" action="?/change">
              <input type="hidden" name="name" value={name} />
              <AccessChoice value={access} label="What {name} may" />
              <Button type="submit" aria-label="Apply what {name} may">Apply</Button>
            </form>
          </td>
          <td>{signsIn === 'here' ? 'by a password' : 'elsewhere'}</td>
          <td>{dayOf(madeAt)}</td>
          <td>{dayOf(usedAt)}</td>
          <td>
            <form method="POST" action="?/letOut">
              <input type="hidden" name="name" value={name} />
              <Button type="submit" aria-label="Remove {name}">remove</Button>
            </form>
          </td>
        </tr>
      {/each}
    </tbody>
  </Table>
{:else}
  <p class="hint">No users yet: everybody signs in with a token.</p>
{/if}
<form method="POST" action="?/letIn" class="make" autocomplete="off">
  <label>
    A new person <Input name="name" required pattern="[A-Za-z0-9][A-Za-z0-9_.\-]*" maxlength={40} autocomplete="off" />
  </label>
  <label>who <AccessChoice value="write" /></label>
  <label>
    password <Input name="password" type="password" required minlength={LEAST_PASSWORD} autocomplete="new-password" />
  </label>
  <Button type="submit" look="word">Let in</Button>
</form>
