<script lang="ts">
  let { data, form } = $props();

  const says = { read: 'reads', write: 'reads and writes', keep: 'keeps the book' };
  const dayOf = (text: string | null) => text?.slice(0, 10) ?? 'never';
</script>

<svelte:head><title>Who gets in · Jaunty Ledger</title></svelte:head>

<div class="page">
  <h1>Who gets in</h1>
  {#if data.isShut}
    <p>
      These tokens let people and programs in, as does the one that the server was started with. A token that is taken
      back stops working at once, also for those who are signed in with it.
    </p>
    <form method="POST" action="?/signOut"><button type="submit" class="word">Sign out</button></form>
  {:else}
    <p>
      This server asks nobody for a token, and only programs on this machine reach it. Start it with
      <code>JAUNTY_TOKEN</code> and another <code>HOST</code> to open it to others; these tokens are asked for then.
    </p>
  {/if}
  {#if form?.problem}<p class="problem" role="alert">{form.problem}</p>{/if}
  {#if form?.made}
    <p role="status">
      The token of {form.made.name} is <code>{form.made.token}</code>. It is shown this once: hand it on now.
    </p>
  {/if}
  {#if data.tokens.length > 0}
    <table>
      <thead>
        <tr>
          <th scope="col">Token of</th>
          <th scope="col">who</th>
          <th scope="col">made</th>
          <th scope="col">last used</th>
          <th scope="col"><span class="visually-hidden">Actions</span></th>
        </tr>
      </thead>
      <tbody>
        {#each data.tokens as { name, access, madeAt, usedAt } (name)}
          <tr>
            <th scope="row">{name}</th>
            <td>{says[access]}</td>
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
    <label
      >who
      <select name="access">
        <option value="read">reads</option>
        <option value="write">reads and writes</option>
        <option value="keep">keeps the book</option>
      </select></label
    >
    <button type="submit" class="word">make it</button>
  </form>
</div>

<style>
  .page {
    padding: 24px 20px;
    max-width: 52rem;
    font-size: 16px;
    line-height: 1.5;
  }
  h1 {
    font-size: 24px;
    font-weight: 400;
  }
  .problem {
    color: var(--wrong);
  }
  table {
    border-collapse: collapse;
    margin: 16px 0;
    font-size: 15px;
  }
  th,
  td {
    text-align: left;
    font-weight: 400;
    padding: 4px 24px 4px 0;
    border-bottom: 1px solid var(--rule-faint);
  }
  thead th {
    font-style: italic;
    color: var(--quiet);
  }
  .make {
    display: flex;
    flex-wrap: wrap;
    gap: 8px 16px;
    align-items: baseline;
    margin-top: 16px;
  }
  .make input,
  .make select {
    font: inherit;
    color: var(--ink);
    background: none;
    border: 0;
    border-bottom: 1px solid var(--rule);
  }
</style>
