<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import type { ToldVerdict } from '$lib/works/examination/work';

  interface Props {
    verdicts: readonly ToldVerdict[];
    /** Those on another tape, and its name. */
    beside?: { name: string; verdicts: readonly ToldVerdict[] };
    /** Questions that are still computed, with the share that is done: what is known so far may turn around. */
    pending?: { questions: readonly ToldVerdict['question'][]; share: number };
  }
  let { verdicts, beside, pending }: Props = $props();

  const other = $derived(new Map(beside?.verdicts.map((verdict) => [verdict.question, verdict])));

  /** Of pages about pure noise, those with one test or more that rejects. */
  const byChance = $derived(Math.round(100 * (1 - 0.95 ** verdicts.length)));
  const full = (value: number | null) =>
    value === null ? 'missing' : String(Number(value.toPrecision(8))).replace('-', '−');
</script>

<ul>
  {#each verdicts as { question, asks, says, figures, but, supposes, working } (question)}
    <li>
      {#if pending?.questions.includes(question)}
        <p class="says" role="status"><strong>{asks}</strong> computing… {Math.round(100 * pending.share)} %</p>
      {:else}
        <p class="says"><strong>{asks}</strong> {says}</p>
        {#if figures}<p class="figures">{figures}.</p>{/if}
      {/if}
      <p class="figures">Null hypothesis: {supposes}</p>
      {#if beside && other.has(question)}
        <p class="beside"><strong>{beside.name}</strong> {other.get(question)!.says}</p>
        <p class="figures">{other.get(question)!.figures}.</p>
      {/if}
      <details>
        <summary>working</summary>
        <Table look="reckoning">
          <tbody>
            {#each working as { says: name, value }, at (at)}<tr><th scope="row">{name}</th><td>{full(value)}</td></tr
              >{/each}
          </tbody>
        </Table>
        <p>{but}</p>
      </details>
    </li>
  {/each}
</ul>
<p class="chance">
  All {verdicts.length} tests decide at the 5 % level: even of pure noise, about {byChance} % of pages have a test that rejects
  by chance.
</p>

<style>
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  li {
    padding: 6px 0;
    border-bottom: 1px solid var(--rule-faint);
  }
  p {
    margin: 0;
  }
  .says {
    font-size: 15.5px;
  }
  .beside {
    margin-top: 3px;
    font-size: 14.5px;
  }
  .figures,
  details,
  .chance {
    font-size: 13px;
    color: var(--quiet);
  }
  summary {
    cursor: pointer;
    width: max-content;
    color: var(--blue);
  }
  .chance {
    margin-top: 8px;
    font-style: italic;
  }
</style>
