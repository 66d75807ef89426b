<script lang="ts">
  import Checkbox from '$lib/components/Checkbox.svelte';
  import Select from '$lib/components/Select.svelte';
  import { onMount } from 'svelte';
  import { goto } from '$app/navigation';
  import { scaleTeller } from './sharedScale.svelte';
  import { frameNames } from './sideLink';

  interface Choice {
    says: string;
    address: string;
  }
  interface Props {
    left: string;
    right: string;
    choices: readonly Choice[];
  }
  let { left, right, choices }: Props = $props();

  // in the browser alone: a name is made anew where the page is made, and the frames must have the one that this page knows
  const names = typeof window === 'undefined' ? undefined : frameNames();
  let isShown = $state(false);
  onMount(() => (isShown = true));
  let isOne = $state(false);
  if (names) scaleTeller(names, () => isOne);
  const change = (what: { left?: string; right?: string }) =>
    void goto(`/beside?${new URLSearchParams({ left, right, ...what })}`, { keepFocus: true });
</script>

<div class="page">
  <header class="page-head" title="Both pages show the same stretch and the same pointer.">
    <p class="book"><strong>Jaunty Ledger</strong></p>
    <h1>
      {#each [['left', left], ['right', right]] as const as [side, address] (side)}
        {side === 'left' ? '' : ' beside '}
        <Select
          look="word"
          aria-label="Page on the {side}"
          value={choices.some((one) => one.address === address) ? address : ''}
          onchange={(event) => change({ [side]: event.currentTarget.value })}
        >
          <option value="" disabled>choose a page</option>
          {#each choices as { says, address: own } (own)}<option value={own}>{says}</option>{/each}
        </Select>
      {/each}
    </h1>
    <label class="quiet"><Checkbox bind:checked={isOne} /> one scale of values for both</label>
  </header>
  <div class="two">
    {#each [['left', left], ['right', right]] as const as [side, address] (side)}
      {#if address && !isShown}<span></span>{:else if address}<iframe
          name={names?.[side]}
          src={address}
          title="Page on the {side}"
        ></iframe>
      {:else}<p class="quiet">Choose a page: ledgers and saved pages can be shown here.</p>{/if}
    {/each}
  </div>
</div>

<style>
  .page {
    display: flex;
    flex-direction: column;
    height: 100dvh;
  }
  header {
    display: flex;
    flex-wrap: wrap;
    gap: 0 16px;
    align-items: baseline;
    padding: 6px 20px;
  }
  h1 {
    flex: 1;
    font-size: 17px;
  }
  .quiet {
    margin: 2px 0;
    font-size: 13.5px;
    color: var(--quiet);
  }
  .two {
    flex: 1;
    min-height: 0;
    display: grid;
    grid-template-columns: repeat(2, minmax(0, 1fr));
  }
  .two .quiet {
    padding: 12px 20px;
  }
  iframe {
    width: 100%;
    height: 100%;
    border: 0;
  }
  iframe:first-child {
    border-right: 4px double var(--margin-rule);
  }
  @media (max-width: 700px) {
    .two {
      grid-template-columns: minmax(0, 1fr);
      grid-auto-rows: 70dvh;
    }
  }
</style>
