<script lang="ts" generics="Value">
  import FlowbiteSelect from 'flowbite-svelte/Select.svelte';
  import { tick } from 'svelte';
  import type { HTMLSelectAttributes } from 'svelte/elements';

  interface Props extends Omit<HTMLSelectAttributes, 'value' | 'size'> {
    value?: Value;
    /** The same where a choice may be refused or is an act: it is shown again after each choice. */
    current?: () => Value;
    /** A stressed word of its sentence, or a field on a line. */
    look?: 'word' | 'lined';
    /** Over the whole width of what it stands in. */
    isWide?: boolean;
    element?: HTMLSelectElement;
  }
  let {
    value = $bindable(),
    current,
    look = 'lined',
    isWide = false,
    element = $bindable(),
    class: more,
    children,
    onchange,
    ...rest
  }: Props = $props();

  $effect.pre(() => {
    if (current) value = current();
  });

  const choose: typeof onchange = async (event) => {
    onchange?.(event);
    await tick();
    if (current) value = current();
  };
</script>

<!-- a placeholder would be a choice of its own -->
<FlowbiteSelect
  {...rest as object}
  bind:value
  onchange={choose}
  bind:elementRef={element}
  placeholder=""
  class={isWide ? 'w-full' : undefined}
  classes={{ select: ['choice', look, isWide && 'w-full', more] }}>{@render children?.()}</FlowbiteSelect
>
