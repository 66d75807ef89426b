<script lang="ts">
  import Input from '$lib/components/Input.svelte';
  import {
    completionsAt,
    phraseCompletions,
    startingEntries,
    type Completion,
    type PhraseContext,
  } from '@jaunty-ledger/core';
  import SuggestionList from '$lib/components/SuggestionList.svelte';
  import { Suggestions } from '$lib/components/suggestions.svelte';
  import ComplaintText from './Complaint.svelte';
  import type { Complaint } from './complaint';

  let {
    submit,
    names,
    texts,
    phrases,
    label = 'New entry',
    placeholder = 'add a formula…',
    initial = '',
    begun = '',
    onleave,
  }: {
    /** Takes what was written. @returns what is wrong with it */
    submit: (text: string) => Promise<Complaint | undefined>;
    /** Columns and entries that formulas may use. */
    names: ReadonlyMap<string, string>;
    /** Text columns of the bars. */
    texts: ReadonlyMap<string, readonly string[]>;
    /** What phrases of the trade mean on the bars. */
    phrases: PhraseContext;
    label?: string;
    placeholder?: string;
    /** A text to begin with: then one field is written anew, and left when that is done. */
    initial?: string;
    /** A text that the empty line has already; it waits to be entered. */
    begun?: string;
    onleave?: () => void;
  } = $props();

  // svelte-ignore state_referenced_locally
  let text = $state(initial || begun);
  let wrong = $state<{ text: string; complaint: Complaint }>();
  let field = $state<HTMLInputElement>()!;
  const suggestions = new Suggestions<Completion>();
  /** Items that are whole entries: they take the place of the whole line. */
  let entries = new Set<Completion>();
  let replaced = { start: 0, end: 0 };
  const id = $props.id();

  $effect(() => {
    if (!initial && !begun) return;
    field.focus();
    field.select();
  });

  async function enter(): Promise<void> {
    const typed = text.trim();
    suggestions.close();
    if (!typed) return onleave?.();
    // the next one may be begun while this one is looked at
    if (!initial) text = '';
    const complaint = await submit(typed);
    wrong = complaint && { text: typed, complaint };
    if (complaint) text ||= typed;
    else if (initial) onleave?.();
  }

  function offer(): void {
    wrong = undefined;
    const { start, end, items: further } = completionsAt(text, field.selectionStart ?? text.length, names, texts);
    const meant = text.trim() === '' ? startingEntries(phrases) : phraseCompletions(text, phrases);
    entries = new Set(meant);
    replaced = { start, end };
    const others = further.filter((item) => !meant.some((other) => other.text === item.text));
    suggestions.open(field, [...meant, ...others]);
  }

  function take(item: Completion): void {
    const isWhole = entries.has(item);
    text = isWhole ? item.text : text.slice(0, replaced.start) + item.text + text.slice(replaced.end);
    const cursor = (isWhole ? 0 : replaced.start) + item.cursor;
    queueMicrotask(() => {
      field.focus();
      field.setSelectionRange(cursor, cursor);
      if (isWhole) suggestions.close();
      else offer();
    });
  }

  /** Whether the bracket that is typed is there already, put by a completion. */
  function isBracketThere(): boolean {
    const at = field.selectionStart ?? 0;
    const count = (mark: string) => text.split(mark).length;
    return at === field.selectionEnd && text[at] === ')' && count('(') === count(')');
  }

  function key(event: KeyboardEvent): void {
    event.stopPropagation(); // letters are written here, not keys of the page
    if (event.key === ')' && isBracketThere()) {
      event.preventDefault();
      const after = (field.selectionStart ?? 0) + 1;
      field.setSelectionRange(after, after);
      return offer();
    }
    if (event.key === 'Escape') {
      if (suggestions.isOpen) suggestions.close();
      else {
        if (initial) text = initial; // what was typed over it is given up
        onleave?.();
      }
      return;
    }
    if (event.key === 'Enter') {
      event.preventDefault();
      // a phrase is no formula: its entry is put in its place, to be looked at first
      const { marked } = suggestions;
      if (marked && entries.has(marked) && text.trim().includes(' ')) return take(marked);
      return void enter();
    }
    if (event.key === 'ArrowDown' && !suggestions.isOpen) {
      event.preventDefault();
      offer();
    } else if (suggestions.step(event.key)) event.preventDefault();
    else if (event.key === 'Tab' && suggestions.marked) {
      event.preventDefault();
      take(suggestions.marked);
    }
  }
</script>

<div class="line">
  <Input
    class="w-full! py-0.5 font-mono text-[12px]"
    bind:element={field}
    bind:value={text}
    aria-label={label}
    {placeholder}
    {...suggestions.attributes(id)}
    oninput={offer}
    onfocus={({ relatedTarget }) => text === '' && relatedTarget && offer()}
    onclick={() => text === '' && !suggestions.isOpen && offer()}
    onkeydown={key}
    onblur={() => {
      suggestions.close();
      if (initial) void enter();
    }}
  />
  <SuggestionList
    {id}
    {suggestions}
    {take}
    label="Completions"
    hint="Tab inserts the marked one, Enter accepts the line as it is"
  />
  {#if wrong}<ComplaintText text={wrong.text} complaint={wrong.complaint} />{/if}
</div>

<style>
  .line {
    position: relative;
  }
</style>
