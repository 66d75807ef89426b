<script lang="ts" generics="Value extends string | number | undefined">
  import FlowbiteInput from 'flowbite-svelte/Input.svelte';
  import type { HTMLInputAttributes } from 'svelte/elements';

  interface Props extends Omit<HTMLInputAttributes, 'value' | 'size' | 'color'> {
    value?: Value;
    /** A stressed word of its sentence, or a field on a line. */
    look?: 'word' | 'lined';
    element?: HTMLInputElement;
  }
  let { value = $bindable(), look = 'lined', element = $bindable(), class: more, ...rest }: Props = $props();
</script>

{#snippet field()}
  <FlowbiteInput {...rest as object} bind:value bind:elementRef={element} class={[look, more]} />
{/snippet}

<!-- the library leaves whitespace behind a field, which would part a word from its comma -->
{#if look === 'word'}<span class="inline-flex max-w-full">{@render field()}</span>{:else}{@render field()}{/if}
