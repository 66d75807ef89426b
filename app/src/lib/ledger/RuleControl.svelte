<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Input from '$lib/components/Input.svelte';
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
  <Button
    look="word"
    bind:element={button}
    aria-expanded={isOpen}
    aria-label="{phrase} bars, by the rule {rule}"
    onclick={() => (isOpen ? close() : open())}>{phrase}</Button
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
        <Input
          class="min-w-0 flex-1 py-0.5 font-mono text-[14px]"
          bind:element={field}
          bind:value={text}
          aria-label="Bar rule"
          spellcheck="false"
          autocomplete="off"
          oninput={() => (wrong = undefined)}
        />
        <Button look="word" class="text-(--blue)" type="submit">Apply</Button>
      </form>
      {#if wrong}<ComplaintText {text} complaint={wrong} />{/if}
      <dl>
        {#each choices as { by, says, rules } (by)}
          <dt>{says}</dt>
          <dd>
            {#each rules as choice (choice)}
              <Button
                class={['text-(--ink)!', rule.startsWith(choice) && 'font-semibold underline']}
                onclick={() => apply(withKind(rule, choice))}>{textOf(choice)}</Button
              >
            {/each}
          </dd>
        {/each}
        {#each columns as column (column)}
          <dt>{column}</dt>
          <dd role="group" aria-label="{column} of a bar">
            {#each TAKES as take (take)}
              <Button
                class={['text-(--ink)!', takeOf(column) === take && 'font-semibold underline']}
                aria-pressed={takeOf(column) === take}
                onclick={() => apply(withTakeOf(rule, column, take))}>{take}</Button
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
