<script lang="ts">
  import { tick } from 'svelte';
  import { isTimed, kindPhrase, parseBarRule, TAKES, type Take } from '@jaunty-ledger/core';
  import ComplaintText from './Complaint.svelte';
  import type { Complaint } from './complaint';
  import { RULE_CHOICES, withKind, withTakeOf } from './rulePhrase';

  interface Props {
    rule: string;
    /** Further columns of numbers that the records have. */
    columns: readonly string[];
    /** Whether the records are only numbered: then nothing goes by clock or calendar. */
    undated: boolean;
    setRule: (text: string) => Complaint | undefined;
  }
  let { rule, columns, undated, setRule }: Props = $props();

  let isOpen = $state(false);
  let text = $state('');
  let wrong = $state<Complaint>();
  let field = $state<HTMLInputElement>();
  let button = $state<HTMLButtonElement>();
  let panel = $state<HTMLElement>();

  const parsed = $derived(parseBarRule(rule));
  const phrase = $derived(undated && isTimed(parsed.kind) ? 'one-period' : kindPhrase(parsed.kind));
  const choices = $derived(
    RULE_CHOICES.filter(({ by }) => !undated || (by !== 'clock' && by !== 'calendar')).map((choice) =>
      undated && choice.by === 'count' ? { ...choice, rules: ['1 day', '2 trades', '4 trades', '12 trades'] } : choice,
    ),
  );
  const textOf = (choice: string) =>
    undated ? choice.replace('1 day', '1 period').replace('trades', 'periods') : choice;
  const takeOf = (column: string): Take => (Object.hasOwn(parsed.takes, column) ? parsed.takes[column] : 'last');

  async function open(): Promise<void> {
    text = rule;
    wrong = undefined;
    isOpen = true;
    await tick();
    field?.select();
  }

  function close(): void {
    isOpen = false;
    button?.focus();
  }

  function apply(chosen: string): void {
    wrong = setRule(chosen);
    if (!wrong) close();
  }

  function submit(event: SubmitEvent): void {
    event.preventDefault();
    apply(text);
  }

  function outside(event: Event): void {
    if (isOpen && event.target instanceof Node && !panel?.contains(event.target) && !button?.contains(event.target))
      isOpen = false;
  }
</script>

<svelte:window onpointerdown={outside} onfocusin={outside} />

<span class="control">
  <button
    type="button"
    class="word"
    bind:this={button}
    aria-expanded={isOpen}
    aria-label="{phrase} bars, by the rule {rule}"
    onclick={() => (isOpen ? close() : open())}>{phrase}</button
  >
  {#if isOpen}
    <!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
    <div
      class="panel"
      bind:this={panel}
      role="group"
      aria-label="Choices of bars"
      onkeydown={(event) => event.key === 'Escape' && close()}
    >
      <form onsubmit={submit}>
        <input
          bind:this={field}
          bind:value={text}
          aria-label="Bar rule"
          spellcheck="false"
          autocomplete="off"
          oninput={() => (wrong = undefined)}
        />
        <button type="submit">Apply</button>
      </form>
      {#if wrong}<ComplaintText {text} complaint={wrong} />{/if}
      <dl>
        {#each choices as { by, says, rules } (by)}
          <dt>{says}</dt>
          <dd>
            {#each rules as choice (choice)}
              <button
                type="button"
                class="aside"
                class:chosen={rule.startsWith(choice)}
                onclick={() => apply(withKind(rule, choice))}>{textOf(choice)}</button
              >
            {/each}
          </dd>
        {/each}
        {#each columns as column (column)}
          <dt>{column}</dt>
          <dd role="group" aria-label="{column} of a bar">
            {#each TAKES as take (take)}
              <button
                type="button"
                class="aside"
                class:chosen={takeOf(column) === take}
                aria-pressed={takeOf(column) === take}
                onclick={() => apply(withTakeOf(rule, column, take))}>{take}</button
              >
            {/each}
          </dd>
        {/each}
      </dl>
    </div>
  {/if}
</span>

<style>
  .control {
    position: relative;
  }
  .panel {
    position: absolute;
    z-index: 20;
    top: calc(100% + 8px);
    left: -12px;
    width: 480px;
    max-width: calc(100vw - 32px);
    box-sizing: border-box;
    padding: 12px 14px;
    background: var(--paper);
    border: 1px solid var(--rule);
    border-top: 2px solid var(--ink);
    font-size: 15px;
    line-height: 1.5;
  }
  form {
    display: flex;
    gap: 10px;
  }
  input {
    flex: 1;
    min-width: 0;
    font-family: var(--mono);
    font-size: 14px;
    color: var(--ink);
    background: none;
    border: 0;
    border-bottom: 1px solid var(--rule);
    padding: 2px 0;
  }
  input:focus {
    outline: 0;
    box-shadow: none;
    border-bottom: 2px solid var(--blue);
    padding-bottom: 1px;
  }
  form button {
    font: inherit;
    font-weight: 600;
    color: var(--blue);
    background: none;
    border: 0;
    padding: 0;
    text-decoration: underline;
    text-underline-offset: 0.2em;
  }
  dl {
    display: grid;
    grid-template-columns: auto minmax(0, 1fr);
    gap: 3px 12px;
    margin: 10px 0 0;
  }
  dt {
    font-style: italic;
    color: var(--quiet);
  }
  dd {
    margin: 0;
    display: flex;
    flex-wrap: wrap;
    gap: 0 8px;
  }
  dd .aside {
    color: var(--ink);
  }
  dd .chosen {
    font-weight: 600;
    text-decoration: underline;
  }
  @media (max-width: 700px) {
    .control {
      position: static;
    }
    .panel {
      left: 16px;
      right: 16px;
      top: auto;
      width: auto;
    }
  }
</style>
