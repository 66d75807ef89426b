<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import { fetchLinks, revokeLink } from '$lib/api/client';
  import type { PageLink } from '$lib/api/handovers';
  import { reasonOf } from '$lib/api/problems';

  /**
   * @property page   the number of the page
   * @property newest the link that was made last: the list is fetched again with each
   */
  let { page, newest }: { page: number; newest: string | undefined } = $props();

  let links = $state.raw<PageLink[]>([]);
  let problem = $state('');

  const load = () =>
    fetchLinks(fetch, page).then(
      (found) => (links = found),
      (error) => (problem = reasonOf(error)),
    );
  $effect(() => {
    if (newest !== undefined) void load();
  });

  async function revoke({ id }: PageLink): Promise<void> {
    problem = '';
    try {
      await revokeLink(fetch, page, id);
      await load();
    } catch (error) {
      problem = reasonOf(error);
    }
  }
</script>

{#if links.length > 0}
  <ul aria-label="Links to this page">
    {#each links as link (link.id)}
      <li>
        Link by {link.madeBy}, {link.madeAt.slice(0, 10)} to {link.until.slice(0, 10)}
        <Button aria-label="Revoke the link of {link.madeAt.slice(0, 10)}" onclick={() => revoke(link)}>revoke</Button>
      </li>
    {/each}
  </ul>
{/if}
{#if problem}<p class="problem" role="alert">{problem}</p>{/if}

<style>
  ul {
    margin: 0;
    padding: 0;
    list-style: none;
    color: var(--quiet);
    font-size: 14px;
  }
  .problem {
    color: var(--wrong);
  }
</style>
