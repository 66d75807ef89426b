<script lang="ts">
  import FlowbiteTable from 'flowbite-svelte/Table.svelte';
  import type { HTMLTableAttributes } from 'svelte/elements';

  interface Props extends HTMLTableAttributes {
    /** Words to the left and few figures; figures alone behind a name; what each figure is, and the figure. */
    look?: 'listing' | 'figures' | 'reckoning' | 'bare';
  }
  let { look = 'bare', class: more, children, ...rest }: Props = $props();
</script>

<FlowbiteTable {...rest as object} class={[look !== 'bare' && look, look === 'listing' && 'w-max max-w-full', more]}
  >{@render children?.()}</FlowbiteTable
>
