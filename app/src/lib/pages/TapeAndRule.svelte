<script lang="ts">
  import Input from '$lib/components/Input.svelte';
  import Select from '$lib/components/Select.svelte';
  import type { Tape } from '$lib/api/tapes';

  interface Props {
    tape: string;
    bars: string;
    tapes: readonly Tape[];
    onTape: (name: string) => void;
    onBars: (rule: string) => void;
  }
  /** The part of a sentence that says of which tape, and in which bars. */
  let { tape, bars, tapes, onTape, onBars }: Props = $props();
</script>

of
<Select look="word" aria-label="Tape" value={tape} onchange={(event) => onTape(event.currentTarget.value)}>
  {#each tapes as { name } (name)}<option value={name}>{name}</option>{/each}
</Select>
in bars of
<span class="unbroken"
  ><Input
    look="word"
    aria-label="Bar rule"
    value={bars}
    onchange={(event) => onBars(event.currentTarget.value.trim())}
  />,</span
>
