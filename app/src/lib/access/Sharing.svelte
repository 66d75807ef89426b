<script lang="ts">
  import Select from '$lib/components/Select.svelte';
  import { page } from '$app/state';
  import { ask, askLatest } from '$lib/api/ask';
  import { Ownership } from '$lib/api/people';
  import { reasonOf } from '$lib/api/problems';

  /**
   * @property path     where it is told whose something is, such as `/api/ledgers/3/sharing`
   * @property choices  what others may do with it
   */
  let { path, of, choices }: { path: string; of: string; choices: Ownership['others'][] } = $props();

  const SAYS: Record<Ownership['others'], string> = {
    change: 'may change it',
    read: 'only read it',
    nothing: 'do not see it',
  };

  let ownership = $state<Ownership>();
  let problem = $state('');
  const visitor = $derived(page.data.visitor);
  const isOwn = $derived(ownership?.owner === visitor?.who);
  const maySay = $derived(isOwn || visitor?.access === 'keep');

  $effect(() => {
    ownership = undefined;
    return askLatest(
      async (fetcher) => Ownership.parse(await (await ask(fetcher, path)).json()),
      (found) => (ownership = found),
      (error) => (problem = reasonOf(error)),
    );
  });

  async function share(others: string): Promise<void> {
    problem = '';
    try {
      const answer = await ask(fetch, path, {
        method: 'PUT',
        body: JSON.stringify({ others }),
        headers: { 'content-type': 'application/json' },
      });
      ownership = Ownership.parse(await answer.json());
    } catch (error) {
      problem = reasonOf(error);
    }
  }
</script>

{#if ownership?.owner}
  <span class="sharing">
    {isOwn ? 'Yours' : `${ownership.owner}'s`}; others
    {#if maySay}
      <Select aria-label="What others may do with {of}" onchange={(event) => share(event.currentTarget.value)}>
        {#each choices as choice (choice)}
          <option value={choice} selected={ownership.others === choice}>{SAYS[choice]}</option>
        {/each}
      </Select>
    {:else}
      {SAYS[ownership.others]}
    {/if}
  </span>
{/if}
{#if problem}<span class="problem" role="alert">{problem}</span>{/if}

<style>
  .sharing {
    color: var(--quiet);
    font-size: 14px;
    white-space: nowrap;
  }
  .problem {
    color: var(--wrong);
  }
</style>
