<script lang="ts">
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
{:else if backtest?.state === 'stopped'}<button type="button" class="word" aria-label="Backtest {model}" onclick={retry}
    >backtest</button
  >
{:else if backtest?.state === 'failed'}<button
    type="button"
    class="word failed"
    title={backtest.reason}
    aria-label="Backtest {model} again: {backtest.reason}"
    onclick={retry}>failed, retry</button
  >
{:else}<span class="computing"
    >{backtest?.state === 'computing' && backtest.share > 0 ? `${Math.round(100 * backtest.share)} %` : 'computing…'}
    <button type="button" class="aside" aria-label="Stop the backtest of {model}" onclick={stop}>stop</button></span
  >{/if}

<style>
  .computing {
    color: var(--quiet);
    font-style: italic;
  }
  .failed {
    color: var(--wrong);
  }
</style>
