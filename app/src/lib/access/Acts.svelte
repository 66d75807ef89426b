<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import type { Act } from '$lib/api/people';

  let { acts }: { acts: Act[] } = $props();

  const minuteOf = (text: string) => `${text.slice(0, 10)} ${text.slice(11, 16)}`;
  const shown = (value: unknown) => (Array.isArray(value) ? value.join(', ') : String(value));
  const said = (what: Act['what']) =>
    Object.entries(what)
      .map(([name, value]) => `${name} ${shown(value)}`)
      .join(', ');
</script>

<h2>What was done</h2>
<Table look="listing">
  <thead>
    <tr>
      <th scope="col">When, UTC</th>
      <th scope="col">who</th>
      <th scope="col">what</th>
      <th scope="col">from</th>
    </tr>
  </thead>
  <tbody>
    {#each acts as { at, who, act, what, address } (`${at} ${who} ${act} ${said(what)}`)}
      <tr>
        <td class="figure">{minuteOf(at)}</td>
        <td>{who}</td>
        <td>{act}{Object.keys(what).length > 0 ? `: ${said(what)}` : ''}</td>
        <td class="figure">{address}</td>
      </tr>
    {/each}
  </tbody>
</Table>
<p class="hint">The latest are shown; <code>GET /api/audit</code> gives all.</p>

<style>
  .figure {
    white-space: nowrap;
    font-variant-numeric: tabular-nums;
  }
</style>
