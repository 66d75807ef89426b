<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import Button from '$lib/components/Button.svelte';
  import type { ToldProjections } from '$lib/works/projection/work';
  import ScrubNumber from '$lib/components/ScrubNumber.svelte';
  import { asWritten } from './projectAddress';
  import BacktestCell from './BacktestCell.svelte';
  import type { Backtests } from './backtests.svelte';
  import ModelInput from './ModelInput.svelte';
  import { dashes, inks, modelParts, readModel, seasonalModels, turned } from './models';

  interface Props {
    models: readonly string[];
    told: ToldProjections | undefined;
    backtests: Backtests;
    horizon: number;
    /** Bars ahead that are shown beside the horizon. */
    steps: readonly number[];
    focus: number;
    figureText: (value: number | null) => string;
    change: (what: { models?: string[]; focus?: number; steps?: number[] }, group?: string) => void;
  }
  let { models, told, backtests, horizon, steps: wanted, focus, figureText, change }: Props = $props();

  let problem = $state('');
  /** Those within the horizon, and it. */
  const steps = $derived([...wanted.filter((step) => step < horizon), horizon]);
  const toldOf = $derived(new Map(told?.models.map((one) => [one.model, one])));

  /** Models of the season that stands out, where none of the models has one. */
  const seasonal = $derived(
    told?.season && !models.some((model) => / season\b/.test(model)) ? seasonalModels(told.season) : [],
  );

  /** Among all that are wanted: those beyond the horizon are not shown. */
  const placeOf = (at: number) => [...wanted.keys()].filter((place) => wanted[place] < horizon)[at];
  const replaced = (at: number, text: string) => models.map((one, place) => (place === at ? text : one));

  /** Adds a model. @returns whether it is one */
  function write(text: string): boolean {
    const model = asWritten(text.trim());
    if (!model) return true;
    const read = readModel(model);
    problem = 'problem' in read ? read.problem : models.includes(model) ? `${model} is in the list already.` : '';
    if (!problem) change({ models: [...models, model], focus: models.length });
    return !problem;
  }
</script>

<div class="scrolls">
  <Table look="figures" class="w-full">
    <thead>
      <tr>
        <th scope="col">model</th>
        {#each steps as step, at (at)}<th scope="col"
            >{#if at < steps.length - 1}<ScrubNumber
                value={step}
                label="Bars ahead that are shown, {at + 1}"
                most={horizon - 1}
                onchange={(to) =>
                  change({ steps: wanted.map((one, place) => (place === placeOf(at) ? to : one)) }, `step ${at}`)}
              />{:else}{step}{/if}</th
          >{/each}
        <th scope="col">95 % at {horizon}</th>
        <th scope="col" title="Its error at {horizon} bars ahead over that of the last value, on data held back"
          >error</th
        >
      </tr>
    </thead>
    <tbody>
      {#each models as model, at (at)}
        {@const own = toldOf.get(model)}
        <tr class:focus={at === focus}>
          <th scope="row">
            <svg width="20" height="8" aria-hidden="true"
              ><line
                x1="0"
                x2="20"
                y1="4"
                y2="4"
                stroke={inks(at)}
                stroke-width="2.4"
                stroke-dasharray={dashes(at)}
              /></svg
            >
            <code
              >{#each modelParts(model) as part (part.start)}{#if part.number === undefined}{part.text}{:else}<ScrubNumber
                    value={part.number}
                    label="Number of {model}"
                    least={0}
                    onchange={(number) => {
                      const text = turned(model, part, number);
                      if (!('problem' in readModel(text))) change({ models: replaced(at, text) }, `model ${at}`);
                    }}
                  />{/if}{/each}</code
            >
            <Button
              class="text-[12px]"
              aria-pressed={at === focus}
              aria-label="Details of {model}"
              onclick={() => change({ focus: at })}>details</Button
            >
            {#if models.length > 1}<Button
                class="text-[12px]"
                aria-label="Leave {model} out"
                onclick={() =>
                  change({
                    models: models.filter((_, place) => place !== at),
                    focus: Math.max(0, focus - (at <= focus ? 1 : 0)),
                  })}>×</Button
              >{/if}
          </th>
          {#if own?.refused}<td class="refused" colspan={steps.length + 2}>{own.refused}</td>
          {:else}
            {#each steps as step, at (at)}<td>{own ? figureText(own.value[step - 1] ?? null) : ''}</td>{/each}
            <td
              >{own
                ? `${figureText(own.low95[horizon - 1] ?? null)} … ${figureText(own.high95[horizon - 1] ?? null)}`
                : ''}</td
            >
            <td
              ><BacktestCell
                {model}
                {horizon}
                backtest={backtests.all.get(model)}
                stop={() => backtests.stop(model)}
                retry={() => backtests.retry(model)}
              /></td
            >
          {/if}
        </tr>
      {/each}
    </tbody>
  </Table>
</div>
<p>
  <ModelInput {write} season={told?.season ?? undefined} />
</p>
{#if seasonal.length > 0}
  <p class="offer">
    A cycle of {told?.season} bars stands out. Models with that season:
    {#each seasonal as model (model)}<Button look="word" class="ml-[0.6em]" onclick={() => write(model)}>{model}</Button
      >{/each}
  </p>
{/if}
{#if problem}<p class="problem" role="alert">{problem}</p>{/if}

<style>
  .offer {
    margin: 6px 0 0;
    font-size: 14px;
  }
  .scrolls {
    overflow-x: auto;
  }
  th,
  td {
    font-weight: 400;
    text-align: right;
    padding: 3px;
    border-bottom: 1px solid var(--rule-faint);
    font-variant-numeric: tabular-nums;
    white-space: nowrap;
  }
  th:first-child {
    text-align: left;
    padding-left: 2px;
  }
  tr.focus {
    background: var(--paper-raised);
  }
  code {
    font-family: var(--mono);
    font-size: 12.5px;
  }
  th svg {
    display: inline-block;
    vertical-align: middle;
  }
  .refused {
    text-align: left;
    white-space: normal;
    color: var(--wrong);
  }
  p {
    margin: 4px 0;
  }
  .problem {
    color: var(--wrong);
    font-size: 13.5px;
  }
</style>
