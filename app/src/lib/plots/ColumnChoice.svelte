<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Checkbox from '$lib/components/Checkbox.svelte';
  import { chosenOf, type RowColumn } from './rowColumns';

  interface Props {
    all: readonly RowColumn[];
    /** Those that were chosen, in their order; all without. */
    keys: readonly string[] | null;
    choose: (keys: string[] | null) => void;
  }
  let { all, keys, choose }: Props = $props();

  const shown = $derived(chosenOf(all, keys).map(({ key }) => key));
  const names = $derived(new Map(all.map(({ key, name }) => [key, name])));
  const left = $derived(all.filter(({ key }) => !shown.includes(key)));

  function move(at: number, by: 1 | -1): void {
    const order = [...shown];
    const [key] = order.splice(at, 1);
    order.splice(at + by, 0, key);
    choose(order);
  }
</script>

<div class="choice small-print" role="group" aria-label="Columns of the rows">
  <ol>
    {#each shown as key, at (key)}
      <li>
        <Button disabled={at === 0} aria-label="{names.get(key)} further to the left" onclick={() => move(at, -1)}
          >‹</Button
        >
        <label
          ><Checkbox
            checked
            disabled={shown.length === 1}
            onchange={() => choose(shown.filter((one) => one !== key))}
          />
          {names.get(key)}</label
        >
        <Button
          disabled={at === shown.length - 1}
          aria-label="{names.get(key)} further to the right"
          onclick={() => move(at, 1)}>›</Button
        >
      </li>
    {/each}
    {#each left as { key, name } (key)}
      <li class="left">
        <label><Checkbox checked={false} onchange={() => choose([...shown, key])} /> {name}</label>
      </li>
    {/each}
  </ol>
  <p>
    Files and copies have these columns too.
    <Button disabled={keys === null} onclick={() => choose(null)}>show all</Button>
  </p>
</div>

<style>
  .choice {
    padding: 2px 0 6px;
    border-bottom: 1px solid var(--rule);
    font-size: 13px;
  }
  ol {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 16px;
    list-style: none;
    margin: 0;
    padding: 0;
  }
  li {
    display: flex;
    align-items: baseline;
    white-space: nowrap;
  }
  .left {
    color: var(--quiet);
  }
  p {
    margin: 2px 0 0;
    color: var(--quiet);
  }
</style>
