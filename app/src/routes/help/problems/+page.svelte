<script lang="ts">
  import { PROBLEMS } from '$lib/api/problems';
</script>

<svelte:head><title>Refusals · Jaunty Ledger</title></svelte:head>
<main>
  <h1>Refusals</h1>
  <p>
    What the interface answers where it does not do what was asked: a problem after RFC 9457, with one of these codes, a
    plain sentence on what is wrong this time, and the place of it. See also the <a href="/help">functions</a> and the
    <a href="/api/openapi.json">description of the interface</a>.
  </p>
  <dl>
    {#each Object.entries(PROBLEMS) as [code, { status, title }] (code)}
      <dt id={code}><code>{code}</code></dt>
      <dd>{status}. {title}.</dd>
    {/each}
  </dl>
</main>

<style>
  main {
    padding: 22px 24px;
    max-width: 46rem;
    font-size: 16px;
    line-height: 1.5;
  }
  h1 {
    font-size: 24px;
  }
  dl {
    display: grid;
    grid-template-columns: max-content 1fr;
    gap: 2px 24px;
    border-top: 1px solid var(--rule);
    padding-top: 10px;
  }
  dt:target {
    border-left: 4px double var(--margin-rule);
    padding-left: 8px;
  }
  dd {
    margin: 0;
  }
</style>
