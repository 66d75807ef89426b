<script lang="ts">
  import Button from '$lib/components/Button.svelte';

  interface Props {
    /** What is done, as `Projecting`. */
    says: string;
    question: {
      isWorking: boolean;
      share: number;
      isStopped: boolean;
      answer: unknown;
      stop: () => void;
      goOn: () => void;
    };
  }
  /** How far a question is that takes long, along the foot of a head; and how it is stopped, and gone on with. */
  let { says, question }: Props = $props();

  const isLong = $derived(question.isWorking && question.share > 0);
</script>

{#if isLong}
  <div
    class="progress"
    role="progressbar"
    aria-label={says}
    aria-valuenow={Math.round(question.share * 100)}
    style:width="{question.share * 100}%"
  ></div>
  <p class="under-way">
    {says}, {Math.round(100 * question.share)} %. <Button look="word" onclick={() => question.stop()}>Stop</Button>
  </p>
{:else if question.isStopped}
  <p class="under-way">
    Stopped{question.answer ? '; what is shown is from before' : ''}.
    <Button look="word" onclick={() => question.goOn()}>Go on</Button>
  </p>
{/if}

<style>
  .under-way {
    margin: 4px 0 0;
    font-size: 14px;
    color: var(--quiet);
  }
</style>
