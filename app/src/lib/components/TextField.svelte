<script lang="ts">
  import Input from './Input.svelte';
  import type { HTMLInputAttributes } from 'svelte/elements';

  interface Props extends Omit<HTMLInputAttributes, 'value'> {
    value: string;
    change: (text: string) => void;
    look?: 'word' | 'lined';
  }
  let { value, change, ...rest }: Props = $props();

  /** What is typed stays, whatever comes from the server meanwhile: until it was handed on and the value has changed. */
  let typed = $state.raw<{ text: string; handedOnAt?: string }>();

  $effect(() => {
    if (typed?.handedOnAt !== undefined && typed.handedOnAt !== value) typed = undefined;
  });

  function handOn(text: string): void {
    typed = { text, handedOnAt: value };
    change(text);
  }

  function leave(): void {
    if (typed?.handedOnAt === undefined) typed = undefined;
  }
</script>

<Input
  {...rest}
  value={typed?.text ?? value}
  oninput={(event) => (typed = { text: event.currentTarget.value })}
  onchange={(event) => handOn(event.currentTarget.value)}
  onblur={leave}
/>
