<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Checkbox from '$lib/components/Checkbox.svelte';
  import type { RollRow } from '$lib/works/roll/work';
  import { brief } from '$lib/pictures/lines';
  import { commonExtent, sparkPath, valueOf } from './rollRows';

  /** One entry on many tapes, a little chart each, all on one scale unless each is to have its own. */
  let { rows, name }: { rows: readonly RollRow[]; name: string } = $props();

  /** Charts that are drawn at once; more are asked for. */
  const MANY = 200;
  let most = $state(MANY);
  let isCommon = $state(true);
  const extent = $derived(commonExtent(rows, name));
</script>

<p class="quiet">
  <label><Checkbox bind:checked={isCommon} /> one scale for all</label>{isCommon && extent
    ? `, from ${brief(extent[0])} to ${brief(extent[1])}`
    : ''}
</p>
<ul>
  {#each rows.slice(0, most) as row (row.tape)}
    {@const value = valueOf(row, name)}
    <li>
      <span><strong>{row.tape}</strong> {value ? brief(value.last) : ''}</span>
      {#if value}<svg width="150" height="54" role="img" aria-label="{name} of {row.tape}"
          ><path d={sparkPath(value.spark, 150, 54, isCommon ? extent : undefined)} /></svg
        >{:else}<p>{row.refused ?? 'no value'}</p>{/if}
    </li>
  {/each}
</ul>
{#if rows.length > most}<Button look="word" onclick={() => (most += MANY)}
    >Show {Math.min(MANY, rows.length - most)} more</Button
  >{/if}

<style>
  ul {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
    gap: 10px 18px;
    list-style: none;
    margin: 8px 0;
    padding: 0;
    font-size: 12.5px;
  }
  li {
    border-top: 1px solid var(--rule-faint);
    min-width: 0;
    overflow: hidden;
  }
  li span {
    display: flex;
    justify-content: space-between;
    gap: 8px;
  }
  li p {
    margin: 0;
    color: var(--wrong);
    font-size: 12px;
  }
  .quiet {
    margin: 4px 0;
    font-size: 13px;
    color: var(--quiet);
  }
  path {
    fill: none;
    stroke: var(--blue);
    stroke-width: 1.2;
  }
</style>
