<script lang="ts">
  import type { FileuploadProps } from 'flowbite-svelte';
  import Fileupload from 'flowbite-svelte/Fileupload.svelte';
  import type { HTMLInputAttributes } from 'svelte/elements';

  interface Props extends Omit<HTMLInputAttributes, 'type' | 'size' | 'value' | 'files'> {
    element?: HTMLInputElement;
  }
  /** Chooses files; unseen, since what opens it is a word around it or a button. */
  let { element = $bindable(), ...rest }: Props = $props();
</script>

<Fileupload {...rest as FileuploadProps} bind:elementRef={element} class="visually-hidden" />
