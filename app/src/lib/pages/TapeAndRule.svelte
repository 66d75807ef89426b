<script lang="ts">
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
<select class="word" aria-label="Tape" value={tape} onchange={(event) => onTape(event.currentTarget.value)}>
  {#each tapes as { name } (name)}<option value={name}>{name}</option>{/each}
</select>
in bars of
<span class="unbroken"
  ><input
    class="word"
    aria-label="Bar rule"
    value={bars}
    onchange={(event) => onBars(event.currentTarget.value.trim())}
  />,</span
>
