<script lang="ts">
  import Select from '$lib/components/Select.svelte';
  import { CHECKS, type CheckRule, type Treatment } from '@jaunty-ledger/files/checks/checks';
  import type { ReadingPreview } from '@jaunty-ledger/files/reading/preview';
  import type { IntakeSession } from './intakeSession.svelte';

  let { session, preview }: { session: IntakeSession; preview: ReadingPreview } = $props();

  const TEXTS: Record<Treatment, string> = { keep: 'kept', flag: 'flagged', 'leave-out': 'left out' };
  const rules: readonly CheckRule[] = CHECKS;

  const found = $derived(new Map(preview.findings.map(({ id, count }) => [id, count])));
</script>

<details>
  <summary
    >What to do with what the checks find{found.size > 0
      ? ` (${preview.findings.reduce((sum, { count }) => sum + count, 0)} in the sample)`
      : ''}</summary
  >
  <ul>
    {#each rules as { id, says, usual, choices } (id)}
      <li>
        <span class="says">{says}</span>
        {#if found.has(id)}<span class="found">{found.get(id)} in the sample</span>{/if}
        {#if choices.length > 1}
          <Select
            aria-label="{says} are"
            value={session.treatments[id] ?? usual}
            onchange={(event) => (session.treatments[id] = event.currentTarget.value as Treatment)}
          >
            {#each choices as treatment (treatment)}<option value={treatment}>{TEXTS[treatment]}</option>{/each}
          </Select>
        {:else}<span class="settled">{usual === 'reported' ? 'told' : TEXTS[usual]}</span>{/if}
      </li>
    {/each}
  </ul>
</details>

<style>
  details {
    grid-column: 1 / -1;
    font-size: 14px;
  }
  summary {
    cursor: pointer;
    color: var(--quiet);
  }
  ul {
    list-style: none;
    margin: 6px 0 0;
    padding: 0;
    columns: 2;
    column-gap: 40px;
  }
  li {
    display: flex;
    gap: 10px;
    align-items: baseline;
    break-inside: avoid;
    padding: 1px 0;
  }
  .says {
    flex: 1;
  }
  .found {
    color: var(--wrong);
  }
  .settled {
    color: var(--quiet);
  }
  @media (max-width: 800px) {
    ul {
      columns: 1;
    }
  }
</style>
