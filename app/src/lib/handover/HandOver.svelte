<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Checkbox from '$lib/components/Checkbox.svelte';
  import Select from '$lib/components/Select.svelte';
  import { goto } from '$app/navigation';
  import { createHandover, fetchHandover, fetchHandovers, saveHandover } from '$lib/api/client';
  import type { Block, HandoverSummary } from '$lib/api/handovers';
  import { reasonOf } from '$lib/api/problems';
  import Sheet from '$lib/plots/Sheet.svelte';
  import { emptyPage, type HandedOver } from './blocks';
  import { askedOnce } from './issue';
  import { SERVER } from './sources';

  interface Props {
    /** The title of a page that is begun with it. */
    title: string;
    /** What can be handed over; each is made where it is chosen. */
    choices: readonly HandedOver[];
    /** Nothing can be handed over yet. */
    disabled?: boolean;
    open?: boolean;
  }
  let { title, choices, disabled = false, open = $bindable(false) }: Props = $props();

  let pages = $state.raw<HandoverSummary[]>([]);
  let target = $state('new');
  let problem = $state('');
  let isBusy = $state(false);
  let left = $state<string[]>([]);

  $effect(() => {
    if (!open) return;
    fetchHandovers(fetch).then(
      ({ items }) => (pages = items),
      (error) => (problem = reasonOf(error)),
    );
  });

  async function hand(): Promise<void> {
    isBusy = true;
    problem = '';
    try {
      const blocks: Block[] = [];
      const sources = askedOnce(SERVER);
      for (const { says, make } of choices) if (!left.includes(says)) blocks.push(...(await make(sources)));
      const id = target === 'new' ? await begun(blocks) : await added(Number(target), blocks);
      await goto(`/handover/${id}`);
    } catch (error) {
      problem = reasonOf(error);
      isBusy = false;
    }
  }

  async function begun(blocks: Block[]): Promise<number> {
    const page = { ...emptyPage(new Date().toISOString().slice(0, 10)), blocks };
    return (await createHandover(fetch, { title: title.slice(0, 120), body: page })).id;
  }
  async function added(id: number, blocks: Block[]): Promise<number> {
    const { title: of, version, body } = await fetchHandover(fetch, id);
    await saveHandover(fetch, id, { title: of, version, body: { ...body, blocks: [...body.blocks, ...blocks] } });
    return id;
  }
</script>

<Button {disabled} aria-expanded={open} onclick={() => (open = !open)}>hand over</Button>
{#if open}
  <Sheet label="Hand over" widthPx={380} onclose={() => (open = false)}>
    <form
      onsubmit={(event) => {
        event.preventDefault();
        void hand();
      }}
    >
      {#each choices as { says } (says)}
        <label
          ><Checkbox
            checked={!left.includes(says)}
            onchange={(event) =>
              (left = event.currentTarget.checked ? left.filter((one) => one !== says) : [...left, says])}
          />
          {says}</label
        >
      {/each}
      <label
        >to <Select look="word" aria-label="Target page" bind:value={target}>
          <option value="new">a new page</option>
          {#each pages as page (page.id)}<option value={String(page.id)}>{page.title}</option>{/each}
        </Select></label
      >
      <p>
        <Button type="submit" look="word" disabled={isBusy || left.length === choices.length}>Hand over</Button>
        {#if isBusy}<span role="status">Taking the figures…</span>{/if}
      </p>
      {#if problem}<p class="problem" role="alert">{problem}</p>{/if}
    </form>
  </Sheet>
{/if}

<style>
  label {
    display: block;
  }
  p {
    margin: 6px 0;
  }
  .problem {
    color: var(--wrong);
  }
</style>
