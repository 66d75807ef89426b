<script lang="ts" generics="Value">
  import FlowbiteSelect from 'flowbite-svelte/Select.svelte';
  import type { HTMLSelectAttributes } from 'svelte/elements';

  interface Props extends Omit<HTMLSelectAttributes, 'value' | 'size'> {
    value?: Value;
    /** A stressed word of its sentence, or a field on a line. */
    look?: 'word' | 'lined';
    /** Over the whole width of what it stands in. */
    isWide?: boolean;
    element?: HTMLSelectElement;
  }
  let {
    value = $bindable(),
    look = 'lined',
    isWide = false,
    element = $bindable(),
    class: more,
    children,
    ...rest
  }: Props = $props();
</script>

<!-- a placeholder would be a choice of its own -->
<FlowbiteSelect
  {...rest as object}
  bind:value
  bind:elementRef={element}
  placeholder=""
  class={isWide ? 'w-full' : undefined}
  classes={{ select: ['choice', look, isWide && 'w-full', more] }}>{@render children?.()}</FlowbiteSelect
>
