<script lang="ts">
  import Input from '$lib/components/Input.svelte';
  import { MODEL_FORMS } from '@jaunty-ledger/core';
  import SuggestionList from '$lib/components/SuggestionList.svelte';
  import { seasonalModels } from './models';
  import { Suggestions, type Suggestion } from '$lib/components/suggestions.svelte';

  let {
    write,
    season,
  }: {
    /** Takes a model. @returns whether it is one */
    write: (text: string) => boolean;
    /** Rows of the cycle that stands out: models with it are suggested first. */
    season: number | undefined;
  } = $props();

  const suggestions = new Suggestions<Suggestion>();
  const id = $props.id();
  let field = $state<HTMLInputElement>()!;
  let text = $state('');

  const seasonal = $derived(season === undefined ? [] : seasonalModels(season));
  const forms = $derived([
    ...seasonal.map((text) => ({
      text,
      says: `With the season of ${season} bars that stands out.`,
      words: ['seasonal'],
    })),
    ...MODEL_FORMS.filter(({ text }) => !seasonal.includes(text)),
  ]);

  /** Lists the models that begin so, or that one of their words does. */
  function offer(): void {
    const prefix = text.trim().toLowerCase();
    suggestions.open(
      field,
      forms
        .filter(({ text, words }) => [text, ...words].some((word) => word.startsWith(prefix)))
        .map(({ text, says }) => ({ text, says: says.replaceAll('`', '') })),
    );
  }

  function take(item: Suggestion): void {
    text = item.text;
    suggestions.close();
    field.focus();
  }

  function enter(): void {
    suggestions.close();
    if (write(text)) text = '';
  }

  function key(event: KeyboardEvent): void {
    if (event.key === 'Enter') enter();
    else if (event.key === 'Escape') suggestions.close();
    else if (event.key === 'ArrowDown' && !suggestions.isOpen) offer();
    else if (event.key === 'Tab' && suggestions.marked && text.trim() !== '' && suggestions.marked.text !== text)
      take(suggestions.marked);
    else if (!suggestions.step(event.key)) return;
    event.preventDefault();
  }
</script>

<Input
  bind:element={field}
  bind:value={text}
  look="word"
  class="w-full! max-w-80 text-[14px]"
  aria-label="Write a model"
  placeholder="add a model, such as trend 60"
  {...suggestions.attributes(id)}
  oninput={offer}
  onfocus={offer}
  onkeydown={key}
  onblur={() => {
    suggestions.close();
    if (text.trim() !== '') enter();
  }}
/>
<SuggestionList
  {id}
  {suggestions}
  {take}
  label="Models"
  hint="Enter adds the model; of log after it takes the logarithm"
/>
