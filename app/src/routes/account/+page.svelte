<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import Button from '$lib/components/Button.svelte';
  import Input from '$lib/components/Input.svelte';
  import { LEAST_PASSWORD } from '$lib/api/people';
  import AccessPage from '$lib/access/AccessPage.svelte';
  import { ACCESS_SAYS, dayOf } from '$lib/access/accessSays';

  let { data, form } = $props();
</script>

<svelte:head><title>Account · Jaunty Ledger</title></svelte:head>

<AccessPage>
  <h1>Account</h1>
  <p>Signed in as <strong>{data.who}</strong>, who {ACCESS_SAYS[data.access]}.</p>
  <form method="POST" action="?/signOut"><Button type="submit" look="word">Sign out</Button></form>
  {#if form?.problem}<p class="problem" role="alert">{form.problem}</p>{/if}
  <h2>Sessions</h2>
  {#if data.sessions.length > 0}
    <Table look="listing">
      <thead>
        <tr>
          <th scope="col">Signed in</th>
          <th scope="col">Last used</th>
          <th scope="col">From</th>
          <th scope="col"><span class="visually-hidden">Actions</span></th>
        </tr>
      </thead>
      <tbody>
        {#each data.sessions as { id, madeAt, usedAt, address, isThis } (id)}
          <tr>
            <th scope="row">{dayOf(madeAt)}</th>
            <td>{isThis ? 'now, this browser' : dayOf(usedAt)}</td>
            <td>{address}</td>
            <td>
              {#if !isThis}
                <form method="POST" action="?/end">
                  <input type="hidden" name="id" value={id} />
                  <Button type="submit" aria-label="End the session of {dayOf(madeAt)} from {address}">end</Button>
                </form>
              {/if}
            </td>
          </tr>
        {/each}
      </tbody>
    </Table>
    <form method="POST" action="?/endAll"><Button type="submit" look="word">Sign out everywhere</Button></form>
  {:else}
    <p class="hint">No browser is signed in under this name.</p>
  {/if}
  {#if data.hasPassword}
    <h2>Password</h2>
    <form method="POST" action="?/password" class="make">
      <label>
        Current password <Input name="current" type="password" required autocomplete="current-password" />
      </label>
      <label>
        New password
        <Input name="password" type="password" required minlength={LEAST_PASSWORD} autocomplete="new-password" />
      </label>
      <Button type="submit" look="word">Change password</Button>
    </form>
    <p class="hint">Changing it ends all sessions: sign in again with the new password.</p>
  {/if}
</AccessPage>
