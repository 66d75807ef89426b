<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import { brief } from '$lib/pictures/lines';
  import { answerOf, type Backtest } from './backtests.svelte';

  interface Props {
    model: string;
    backtest: Backtest | undefined;
    horizon: number;
    stop: () => void;
    retry: () => void;
  }
  let { model, backtest, horizon, stop, retry }: Props = $props();

  const found = $derived(answerOf(backtest));
</script>

{#if found}<span title="{found.origins} origins"
    >{found.refused ? '' : model === 'last' ? '1' : brief(found.ahead[horizon - 1]?.against ?? null)}</span
  >
{:else if backtest?.state === 'stopped'}<Button look="word" aria-label="Backtest {model}" onclick={retry}
    >backtest</Button
  >
{:else if backtest?.state === 'failed'}<Button
    look="word"
    class="text-(--wrong)!"
    title={backtest.reason}
    aria-label="Backtest {model} retry: {backtest.reason}"
    onclick={retry}>failed, retry</Button
  >
{:else}<span class="computing"
    >{backtest?.state === 'computing' && backtest.share > 0 ? `${Math.round(100 * backtest.share)} %` : 'computing…'}
    <Button aria-label="Stop the backtest of {model}" onclick={stop}>stop</Button></span
  >{/if}

<style>
  .computing {
    color: var(--quiet);
    font-style: italic;
  }
</style>
