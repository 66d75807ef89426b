<script lang="ts">
  import type { ButtonProps } from 'flowbite-svelte';
  import FlowbiteButton from 'flowbite-svelte/Button.svelte';
  import type { HTMLButtonAttributes } from 'svelte/elements';

  interface Props extends HTMLButtonAttributes {
    /** A stressed word of its sentence, a quiet one, the one act that a page is for, or nothing but its content. */
    look?: 'word' | 'aside' | 'solid' | 'bare';
    element?: HTMLButtonElement;
  }
  /** What is no word is the library's own. */
  const LOOKS = {
    word: 'word',
    aside: 'aside',
    solid:
      'px-4 py-2 text-base bg-primary-700 text-white hover:bg-primary-800 dark:bg-primary-600 dark:text-white dark:hover:bg-primary-700',
    bare: '',
  };
  let { look = 'aside', element = $bindable(), class: more, children, ...rest }: Props = $props();
</script>

<FlowbiteButton
  {...rest as ButtonProps}
  class={[LOOKS[look], more]}
  {@attach (node: HTMLElement) => {
    element = node as HTMLButtonElement;
  }}>{@render children?.()}</FlowbiteButton
>
