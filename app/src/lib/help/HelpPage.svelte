<script lang="ts">
  import Input from '$lib/components/Input.svelte';
  import { onMount } from 'svelte';
  import { catalogue, commonWordsFor, type FunctionEntry } from '@jaunty-ledger/core';
  import { Refusal } from '$lib/api/problems';
  import { calendarOptions, type Tape } from '$lib/api/tapes';
  import Said from '$lib/components/Said.svelte';
  import type { DrawnBars } from '$lib/compute/protocol';
  import { EntryResults } from '$lib/plots/entryResults.svelte';
  import FunctionChart from './FunctionChart.svelte';
  import { isFound, TOPICS } from './topics';

  let { tape }: { tape: Tape | undefined } = $props();

  let wanted = $state('');
  let bars = $state.raw<DrawnBars>();
  let results = $state.raw<EntryResults>();
  let problem = $state('');

  const BAR_RULE = '1 hour';

  /** The examples are worked out on the thread that works out entries. */
  async function workOut(examples: EntryResults, on: Tape): Promise<void> {
    try {
      bars = await examples.load({
        tape: on.name,
        rule: BAR_RULE,
        flagged: { shown: true, count: 0 },
        calendar: calendarOptions(on),
        tapes: [],
      });
      await examples.evaluate([...catalogue.values()].map((entry) => ({ id: entry.name, text: entry.example })));
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      problem = `The bars of ${on.name} cannot be had, so the examples have no charts. ${error.problem.detail}`;
    }
  }

  onMount(() => {
    if (!tape) {
      problem = 'There are no tapes, so the examples have no charts.';
      return;
    }
    const examples = (results = new EntryResults());
    void workOut(examples, tape);
    return () => examples.close();
  });

  const sections = $derived.by(() => {
    const found = new Map<string, FunctionEntry[]>();
    for (const entry of catalogue.values()) {
      const { name, sentence, source } = entry;
      if (!isFound(wanted.trim(), [name, ...commonWordsFor(name), sentence, source])) continue;
      const section = entry.definition.replace(/^\d+\. /, '');
      found.set(section, [...(found.get(section) ?? []), entry]);
    }
    return [...found];
  });

  const topics = $derived(
    TOPICS.flatMap((group) => {
      const found = group.topics.filter(({ title, says, words }) => isFound(wanted.trim(), [title, says, ...words]));
      return found.length > 0 ? [{ ...group, topics: found }] : [];
    }),
  );

  /** A tape without volumes has no example of what is made of them. */
  const drawnOf = ({ name }: FunctionEntry) => {
    const result = results?.shown.get(name);
    return result?.state === 'drawn' ? result : { columns: [], ahead: 0 };
  };
</script>

<div class="page">
  <header class="page-head">
    <p class="book"><strong>Jaunty Ledger</strong> <em>Help</em></p>
    <h1>
      Pages, models and functions, with
      <Input
        class="w-[14ch]! border-b-2! border-(--blue)!"
        bind:value={wanted}
        aria-label="Word to look for"
        placeholder="moving average"
      /> in it.
    </h1>
    <p class="hint">
      An entry is <code>name = formula</code>. A window is <code>20 bars</code>, <code>30 minutes</code>,
      <code>12 months</code>, <code>this session</code> or <code>all</code>; options follow as <code>name: value</code>;
      a list such as
      <code>[10, 50] bars</code> makes a fan. <code>… on 1 hour</code> takes larger bars, <code>each: session</code>
      restarts, <code>SALT.close</code> is another tape, <code>b.upper</code> one of several values.
      {#if tape}The little charts are of {tape.name}, an hour a bar: above its close, below the function.{/if}
      {problem}
    </p>
  </header>
  {#each topics as { section, isCode, topics: list } (section)}
    <section>
      <h2>{section}</h2>
      <dl class="topics">
        {#each list as { id, title, says, href } (id)}
          <dt {id} class:code={isCode}>
            {#if href}<a {href}>{title}</a>{:else}{title}{/if}
          </dt>
          <dd><Said text={says} /></dd>
        {/each}
      </dl>
    </section>
  {/each}
  {#each sections as [section, entries] (section)}
    <section>
      <h2>{section}</h2>
      {#each entries as entry (entry.name)}
        <article id={entry.name}>
          <div class="words">
            <h3><a href="#{entry.name}">{entry.name}</a> <code>{entry.example}</code></h3>
            <p><Said text={[entry.sentence, entry.remark].filter(Boolean).join(' ')} /></p>
            <p class="formula">{entry.formula}</p>
            <dl>
              {#each entry.parameters as parameter (parameter.name)}
                <dt>{parameter.name}</dt>
                <dd>
                  {parameter.says}{'default' in parameter ? `; ${parameter.default} if not given` : ''}
                </dd>
              {/each}
              {#each Object.entries(entry.options) as [name, rule] (name)}
                <dt>{name}:</dt>
                <dd><Said text="{rule.says}{rule.kind === 'word' ? ` (${rule.words.join(', ')})` : ''}" /></dd>
              {/each}
              {#each entry.parts ?? [] as part (part.name)}
                <dt>.{part.name}</dt>
                <dd>{part.says}</dd>
              {/each}
            </dl>
            <p class="source">
              <Said text="{entry.source}; {entry.cost}" />
              {#if commonWordsFor(entry.name).length > 0}Also looked for as {commonWordsFor(entry.name).join(
                  ', ',
                )}.{/if}
            </p>
          </div>
          <div class="chart">
            {#if bars}{@const { columns, ahead } = drawnOf(entry)}<FunctionChart
                close={bars.close}
                {columns}
                {ahead}
                name={entry.name}
              />{/if}
          </div>
        </article>
      {/each}
    </section>
  {/each}
  {#if topics.length + sections.length === 0}
    <p class="none">Nothing matches {wanted.trim()}. Try another word, or clear the field to see all.</p>
  {/if}
</div>

<style>
  .page {
    min-height: 100dvh;
    padding-bottom: 40px;
  }
  .hint {
    margin: 4px 0 0;
    max-width: 62rem;
    color: var(--quiet);
    font-size: 14.5px;
  }
  code {
    font-family: var(--mono);
    font-size: 0.86em;
    color: var(--ink);
  }
  h2 {
    font-size: 18px;
    margin: 18px 20px 2px;
  }
  article {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 300px;
    gap: 24px;
    padding: 10px 20px;
    border-top: 1px solid var(--rule-faint);
    scroll-margin-top: 8px;
  }
  /* as high as a chart, so that nothing moves when they come */
  .chart {
    min-height: 108px;
  }
  h3 {
    font-size: 16px;
    margin: 0;
  }
  h3 a {
    color: var(--ink);
    text-decoration: none;
  }
  h3 code {
    font-weight: 400;
    margin-left: 8px;
    color: var(--quiet);
  }
  p {
    margin: 2px 0;
  }
  .formula {
    font-family: var(--mono);
    font-size: 12.5px;
  }
  dl {
    display: grid;
    grid-template-columns: auto minmax(0, 1fr);
    gap: 0 12px;
    margin: 4px 0;
    font-size: 14px;
  }
  dt {
    font-family: var(--mono);
    font-size: 12.5px;
  }
  dd {
    margin: 0;
    color: var(--quiet);
  }
  .topics {
    grid-template-columns: 13rem minmax(0, 1fr);
    margin: 4px 20px;
  }
  .topics dt:not(.code) {
    font-family: inherit;
    font-size: 14px;
  }
  .topics dd {
    max-width: 62rem;
  }
  .source {
    font-size: 13px;
    font-style: italic;
    color: var(--quiet);
  }
  .none {
    padding: 20px;
  }
  @media (max-width: 800px) {
    article {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
