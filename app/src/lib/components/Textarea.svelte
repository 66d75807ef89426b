<script lang="ts">
  import FlowbiteTextarea from 'flowbite-svelte/Textarea.svelte';
  import type { HTMLTextareaAttributes } from 'svelte/elements';

  interface Props extends Omit<HTMLTextareaAttributes, 'value'> {
    value?: string;
  }
  /** Several lines to write. It grows with what is written. */
  let { value = $bindable(), class: more, ...rest }: Props = $props();
</script>

<FlowbiteTextarea {...rest} bind:value class={['lines', more]} />
