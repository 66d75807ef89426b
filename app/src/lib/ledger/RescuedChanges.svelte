<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import { goto } from '$app/navigation';
  import { createLedger } from '$lib/api/client';
  import { reasonOf } from '$lib/api/problems';
  import Said from '$lib/components/Said.svelte';
  import type { LedgerSaver } from './ledgerSaver.svelte';

  let { saver }: { saver: LedgerSaver } = $props();

  let problem = $state('');

  async function openAsOther(): Promise<void> {
    const { title, body } = saver.rescued!;
    try {
      const { id } = await createLedger(fetch, { title: `${title}, not saved`.slice(0, 120), body });
      saver.forgetRescued();
      await goto(`/ledger/${id}`);
    } catch (error) {
      problem = reasonOf(error);
    }
  }
</script>

<p role="status">
  Your changes could not be saved, and this ledger was changed elsewhere since. They are stored in this browser.
  <Button look="word" onclick={openAsOther}>Open them as another ledger</Button>
  or <Button onclick={() => saver.forgetRescued()}>discard them</Button>
  {#if problem}<Said text={problem} />{/if}
</p>

<style>
  p {
    margin: 2px 0 0;
    color: var(--wrong);
  }
</style>
