<script lang="ts">
  import Modal from 'flowbite-svelte/Modal.svelte';
  import Button from '$lib/components/Button.svelte';
  let { onclose }: { onclose: () => void } = $props();

  const KEYS: readonly [keys: string, does: string][] = [
    ['← →', 'read bar by bar in the plot'],
    ['Shift ← →', 'move the visible range'],
    ['+ −', 'zoom in, zoom out'],
    ['0', 'show the whole span'],
    ['Home End', 'first bar, last bar'],
    ['e', 'add a formula'],
    ['r', 'show or hide rows'],
    ['w', 'working of the bar at the pointer'],
    ['m', 'start or end measuring'],
    ['n', 'pin a note here'],
    ['d', 'go to date'],
    ['x', 'export figures or picture'],
    ['h', 'hand over the current view'],
    ['l', 'list ledgers'],
    ['f', 'on a number: turn it into a fan of three'],
    ['Ctrl Z', 'undo the last change'],
    ['Ctrl Shift Z', 'redo'],
    ['Esc', 'close what is open'],
    ['?', 'this list'],
  ];
</script>

<Modal title="Keys" aria-label="Keys" size="sm" bind:open={() => true, (isOpen) => isOpen || onclose()}>
  <dl>
    {#each KEYS as [keys, does] (keys)}
      <dt>
        {#each keys.split(' ') as key (key)}<kbd>{key}</kbd>{/each}
      </dt>
      <dd>{does}</dd>
    {/each}
  </dl>
  <p>On a number of a formula: arrow keys change it, Shift for large steps, Alt for small ones.</p>
  <Button look="word" onclick={onclose}>Back to the ledger</Button>
</Modal>

<style>
  dl {
    display: grid;
    grid-template-columns: auto minmax(0, 1fr);
    gap: 4px 16px;
    margin: 0;
  }
  dt {
    display: flex;
    align-items: baseline;
    gap: 4px;
  }
  dd {
    margin: 0;
  }
  kbd {
    font-family: var(--mono);
    font-size: 12px;
    border-bottom: 1px solid var(--rule);
    padding: 0 3px;
  }
  p {
    margin: 10px 0;
    color: var(--quiet);
    font-style: italic;
  }
</style>
