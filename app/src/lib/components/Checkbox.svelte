<script lang="ts">
  import FlowbiteCheckbox from 'flowbite-svelte/Checkbox.svelte';
  import type { HTMLInputAttributes } from 'svelte/elements';

  interface Props extends Omit<HTMLInputAttributes, 'type' | 'value' | 'size' | 'color' | 'children'> {
    checked?: boolean;
  }
  /** A box to tick. Its label stands around it. */
  let { checked = $bindable(false), class: more, ...rest }: Props = $props();
</script>

<FlowbiteCheckbox {...rest} bind:checked class={more} />
