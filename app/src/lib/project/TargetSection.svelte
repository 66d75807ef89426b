<script lang="ts">
  import Input from '$lib/components/Input.svelte';
  import { instantOf, rfc3339, type Calendar } from '@jaunty-ledger/core';
  import type { ToldProjections } from '$lib/works/projection/work';
  import Said from '$lib/components/Said.svelte';
  import { readStretch } from '$lib/plots/stretchInput';
  import { reachedBy, rowAheadAt } from './models';
  import type { Projected } from './projectAddress';

  interface Props {
    told: ToldProjections;
    projected: Projected;
    calendar: Calendar;
    /** The last value that is seen. */
    last: number | null;
    timeText: (time: string) => string;
    figureText: (value: number | null) => string;
    change: (what: Partial<Projected>, group?: string) => void;
  }
  let { told, projected, calendar, last, timeText, figureText, change }: Props = $props();

  let problem = $state('');
  /** Rows ahead of the first one on the day that is asked for, or after it. */
  const asked = $derived(projected.day ? rowAheadAt(told.ahead.map(instantOf), instantOf(projected.day)) : undefined);
  const isPast = $derived(
    projected.day !== '' && instantOf(projected.day) <= instantOf(told.time[told.origin - told.from]),
  );

  function typeDay(text: string): void {
    const stretch = text.trim() ? readStretch(text, '', calendar) : undefined;
    problem = typeof stretch === 'string' ? stretch : '';
    if (typeof stretch !== 'string') change({ day: stretch ? rfc3339(stretch.from) : '' });
  }

  function whenText(ahead: number | undefined): string {
    if (ahead === undefined) return `not within ${projected.horizon} bars`;
    const time = told.ahead[ahead - 1];
    return `${time ? `on ${timeText(time)}, ` : ''}${ahead} bar${ahead === 1 ? '' : 's'} ahead`;
  }
</script>

<h2>
  When does it reach
  <Input
    look="word"
    type="number"
    step="any"
    aria-label="Target"
    placeholder="a value"
    value={projected.target ?? ''}
    onchange={(event) => {
      const { valueAsNumber } = event.currentTarget;
      change({ target: Number.isFinite(valueAsNumber) ? valueAsNumber : null });
    }}
  />?
</h2>
{#if projected.target !== null && last !== null}
  <ul aria-label="When the target is reached">
    {#each told.models as model (model.model)}
      {@const { ahead, beyond } = reachedBy(model, projected.target, last)}
      <li>
        <strong>{model.model}</strong>
        {model.refused ? 'cannot tell' : whenText(ahead)}{beyond === undefined
          ? ''
          : `; ${Math.round(100 * beyond)} of 100 of its fan lie beyond it by then`}
      </li>
    {/each}
  </ul>
{/if}
<h2>
  What is it on
  <Input
    look="word"
    aria-label="Day of the value"
    placeholder="a day"
    value={projected.day && timeText(projected.day)}
    onchange={(event) => typeDay(event.currentTarget.value)}
  />?
</h2>
{#if problem}<p class="wrong" role="alert"><Said text={problem} /></p>{/if}
{#if projected.day}
  {#if isPast}<p class="quiet">It is seen already; choose a day after the last value, or drag the rule back.</p>
  {:else if asked === undefined}<p class="quiet">
      That is more than {projected.horizon} bars ahead{told.ahead.length > 0
        ? `, which end at ${timeText(told.ahead[told.ahead.length - 1])}`
        : ''}; project further.
    </p>
  {:else}
    <ul aria-label="Values on that day">
      {#each told.models as { model, refused, value, low95, high95 } (model)}
        <li>
          <strong>{model}</strong>
          {#if refused}cannot tell{:else}{figureText(value[asked - 1])}; 95 of 100 between {figureText(
              low95[asked - 1],
            )} and {figureText(high95[asked - 1])}{/if}
        </li>
      {/each}
    </ul>
    <p class="quiet">The row of {timeText(told.ahead[asked - 1])}, {asked} bars ahead.</p>
  {/if}
{/if}

<style>
  .wrong {
    margin: 2px 0;
    font-size: 13px;
    color: var(--wrong);
  }
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
    font-size: 13.5px;
  }
</style>
