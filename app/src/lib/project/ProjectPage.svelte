<script lang="ts">
  import { BarRuleError, instantOf, isTimed, makeCalendar, parseBarRule, rfc3339 } from '@jaunty-ledger/core';
  import { onDestroy, untrack } from 'svelte';
  import { goto } from '$app/navigation';
  import { askLatest } from '$lib/api/ask';
  import { postAccuracy, postProjections } from '$lib/api/client';
  import { fittingRule } from '$lib/api/fittingRule';
  import type { KeptPage } from '$lib/api/pages';
  import { reasonOf } from '$lib/api/problems';
  import type { ToldAccuracy, ToldProjections } from '$lib/api/projections';
  import { calendarOptions, type Tape } from '$lib/api/tapes';
  import Said from '$lib/components/Said.svelte';
  import ScrubNumber from '$lib/components/ScrubNumber.svelte';
  import { csvText } from '$lib/examine/examineFiles';
  import { brief } from '$lib/examine/lines';
  import PageHead from '$lib/pages/PageHead.svelte';
  import { savePictures } from '$lib/pages/savePictures';
  import { PageKeeper } from '$lib/pages/pageKeeper.svelte';
  import { saveAs } from '$lib/plots/figuresOut';
  import { readStretch } from '$lib/plots/stretchInput';
  import { momentFigures } from '$lib/plots/stretchText';
  import Account from './Account.svelte';
  import AllAtHorizon from './AllAtHorizon.svelte';
  import ErrorByHorizon from './ErrorByHorizon.svelte';
  import FocusSection from './FocusSection.svelte';
  import { reachedBy } from './models';
  import { PROJECT, type Projected } from './projectAddress';
  import ProjectChart from './ProjectChart.svelte';

  let { projected, kept, tapes }: { projected: Projected; kept?: KeptPage; tapes: readonly Tape[] } = $props();

  /** Models are held against what came once the page has stood still for so long. */
  const SETTLED_MS = 500;
  let told = $state.raw<ToldProjections>();
  let accuracy = $state.raw<ToldAccuracy>();
  let problem = $state('');
  let accuracyProblem = $state('');
  let typingProblem = $state('');
  let isWorking = $state(false);
  let isJudging = $state(false);
  let isExporting = $state(false);
  let plots = $state<HTMLElement>();
  let share = $state(0);

  const go = (address: string, replaces: boolean) =>
    void goto(address, { keepFocus: true, noScroll: true, replaceState: replaces });
  const keeper = untrack(
    () => new PageKeeper(PROJECT, projected, kept, go, typeof localStorage === 'undefined' ? undefined : localStorage),
  );
  $effect(() => keeper.opened(projected, kept));
  onDestroy(() => keeper.flush());

  const tapeNamed = (name: string | undefined) => tapes.find((one) => one.name === name);
  const tape = $derived(tapeNamed(projected.tape));
  const calendar = $derived(tape && makeCalendar(calendarOptions(tape)));
  const precision = $derived(tape?.precision ?? 'moment');

  const shared = $derived({
    ...{ tape: projected.tape, bars: projected.bars, entry: projected.entry, entries: projected.uses },
    ...{ models: projected.models, horizon: projected.horizon },
  });
  // equal questions are one: what is only looked at asks nothing
  const question = $derived(JSON.stringify({ ...shared, ...(projected.origin && { origin: projected.origin }) }));
  const accuracyQuestion = $derived(JSON.stringify(shared));

  $effect(() => {
    const body = JSON.parse(question) as Parameters<typeof postProjections>[1];
    isWorking = true;
    share = 0;
    return askLatest(
      (fetcher) => postProjections(fetcher, body, (done) => (share = done)),
      (answer) => {
        told = answer;
        problem = '';
        isWorking = false;
      },
      (error) => {
        told = undefined;
        problem = reasonOf(error);
        isWorking = false;
      },
    );
  });

  $effect(() => {
    const body = JSON.parse(accuracyQuestion) as Parameters<typeof postAccuracy>[1];
    isJudging = true;
    let giveUp = () => undefined as void;
    const timer = setTimeout(() => {
      giveUp = askLatest(
        (fetcher) => postAccuracy(fetcher, body),
        (answer) => {
          accuracy = answer;
          accuracyProblem = '';
          isJudging = false;
        },
        (error) => {
          accuracy = undefined;
          accuracyProblem = reasonOf(error);
          isJudging = false;
        },
      );
    }, SETTLED_MS);
    return () => {
      clearTimeout(timer);
      giveUp();
    };
  });

  function change(what: Partial<Projected>, group = ''): void {
    typingProblem = '';
    keeper.change(what, group);
  }

  function changeTape(name: string): void {
    const other = tapeNamed(name);
    try {
      change({ tape: name, bars: other ? fittingRule(projected.bars, other) : projected.bars, origin: '' });
    } catch (error) {
      if (!(error instanceof BarRuleError)) throw error;
      change({ tape: name, origin: '' });
    }
  }

  /** How exactly times are told: bars of days and longer have no clock. */
  const toldPrecision = $derived.by(() => {
    if (!told || precision !== 'moment') return precision;
    const { kind } = parseBarRule(told.rule);
    return isTimed(kind) && kind.by === 'period' ? 'day' : precision;
  });
  const timeText = (time: string) => (calendar ? momentFigures(instantOf(time), calendar, toldPrecision) : time);
  const originTime = $derived(told ? told.time[told.origin - told.from] : undefined);

  function typeOrigin(text: string): void {
    if (!text.trim()) return change({ origin: '' });
    const stretch = readStretch('', text, calendar!);
    if (typeof stretch === 'string') return void (typingProblem = stretch);
    change({ origin: rfc3339(stretch.to - 1) });
  }

  /** An origin at the place of a value; at the last one it is left open, so that it follows the tape. */
  const setOrigin = (place: number) =>
    change({ origin: place >= told!.rows - 1 ? '' : told!.time[place - told!.from] }, 'origin');

  const decimals = $derived(projected.entry === 'close' ? tape?.priceDecimals : undefined);
  const figureText = (value: number | null) =>
    value === null ? '' : decimals === undefined ? brief(value) : value.toFixed(decimals).replace('-', '−');

  function lagText(rows: number): string {
    const { kind } = parseBarRule(told!.rule);
    return isTimed(kind) && kind.by === 'period' ? `${rows} ${kind.unit}s` : `${rows} rows`;
  }

  const lastSeen = $derived(told ? (told.values[told.origin - told.from] ?? null) : null);
  const focus = $derived(Math.min(projected.focus, projected.models.length - 1));

  function saveRows(): void {
    const { ahead, models, origin, from, values } = told!;
    const head = ['time', 'came', ...models.flatMap(({ model }) => [model, `${model} low 95`, `${model} high 95`])];
    const rows = Array.from({ length: projected.horizon }, (_, h) => [
      ahead[h] ?? null,
      values[origin - from + 1 + h] ?? null,
      ...models.flatMap(({ value, low95, high95 }) => [value[h] ?? null, low95[h] ?? null, high95[h] ?? null]),
    ]);
    saveAs(new Blob([csvText({ head, rows })], { type: 'text/csv' }), `${projected.tape}_projection.csv`);
  }
</script>

<div class="page">
  <header class="page-head">
    <PageHead
      {keeper}
      name="Project"
      several="projections"
      usualTitle="{projected.entry} of {projected.tape}, projected"
    >
      {#snippet acts()}
        <button
          type="button"
          class="aside"
          disabled={!told}
          aria-expanded={isExporting}
          onclick={() => (isExporting = !isExporting)}>export</button
        >
      {/snippet}
    </PageHead>
    {#if isExporting && told}
      <p class="out">
        The rows ahead as <button type="button" class="word" onclick={saveRows}>CSV</button>, all pictures as
        <button type="button" class="word" onclick={() => savePictures(plots, told!.tape, 'svg')}>SVG</button>
        or <button type="button" class="word" onclick={() => savePictures(plots, told!.tape, 'png')}>PNG</button>.
      </p>
    {/if}
    <h1>
      <input
        class="word formula"
        aria-label="What is projected"
        value={projected.entry}
        onchange={(event) => change({ entry: event.currentTarget.value.trim() || 'close' })}
      />
      of
      <select
        class="word"
        aria-label="Tape"
        value={projected.tape}
        onchange={(event) => changeTape(event.currentTarget.value)}
      >
        {#each tapes as { name } (name)}<option value={name}>{name}</option>{/each}
      </select>
      in bars of
      <input
        class="word"
        aria-label="Bar rule"
        value={projected.bars}
        onchange={(event) => change({ bars: event.currentTarget.value.trim(), origin: '' })}
      />, from
      <input
        class="word"
        aria-label="Last bar that is seen"
        placeholder="the last bar"
        value={projected.origin && calendar ? timeText(projected.origin) : ''}
        onchange={(event) => typeOrigin(event.currentTarget.value)}
      />,
      <ScrubNumber
        value={projected.horizon}
        label="Rows ahead"
        most={1000}
        onchange={(horizon) => change({ horizon }, 'horizon')}
      />
      rows ahead.
    </h1>
    {#if isWorking && share > 0}<div
        class="progress"
        role="progressbar"
        aria-label="Projecting"
        aria-valuenow={Math.round(share * 100)}
        style:width="{share * 100}%"
      ></div>{/if}
  </header>
  {#each [typingProblem, problem] as says, at (at)}{#if says}<p class="problem" role="alert">
        <Said text={says} />
      </p>{/if}{/each}
  {#if told && calendar}
    <div class="parts" aria-busy={isWorking || isJudging} bind:this={plots}>
      <div class="plots">
        <section aria-label="The projection">
          <h2>
            {told.phrase}; the last value seen is {figureText(lastSeen)}, {originTime
              ? timeText(originTime)
              : ''}{told.missing > 0 ? `; ${told.missing.toLocaleString('en')} missing values are left out` : ''}
          </h2>
          <ProjectChart
            {told}
            horizon={projected.horizon}
            {focus}
            target={projected.target}
            {timeText}
            onorigin={setOrigin}
            ontarget={(target) => change({ target }, 'target')}
          />
          <p class="quiet">
            Drag the rule back: all is projected from there with nothing later seen. Dotted: what came.
          </p>
        </section>
        <div class="two">
          <section aria-label="Error by horizon">
            <h2>Error by rows ahead, the last value's is 1</h2>
            {#if accuracy}<ErrorByHorizon {accuracy} models={projected.models} {focus} />
            {:else}<p class="quiet">{accuracyProblem || 'Held against what came…'}</p>{/if}
          </section>
          <section aria-label="All models">
            <h2>All models at {projected.horizon} rows</h2>
            <AllAtHorizon {told} horizon={projected.horizon} {figureText} />
          </section>
        </div>
      </div>
      <section class="account" aria-label="The account">
        <h2>The account</h2>
        <Account
          models={projected.models}
          {told}
          {accuracy}
          horizon={projected.horizon}
          {focus}
          {figureText}
          {change}
        />
        {#if told.models[focus]}<FocusSection
            told={told.models[focus]}
            {accuracy}
            {isJudging}
            seen={told.origin + 1}
            horizon={projected.horizon}
            last={lastSeen}
            when={told.ahead[projected.horizon - 1] ? timeText(told.ahead[projected.horizon - 1]) : ''}
            {figureText}
            {lagText}
          />{/if}
        <table class="listing ways">
          <thead
            ><tr
              ><th scope="col">down, level or up</th>{#each told.models[0]?.ways ?? [] as { ahead } (ahead)}<th
                  scope="col">{ahead}</th
                >{/each}</tr
            ></thead
          >
          <tbody>
            {#each told.models as { model, ways } (model)}
              <tr
                ><th scope="row">{model}</th>{#each ways as { ahead, way } (ahead)}<td
                    class:strong={way === 'up' || way === 'down'}>{way === 'unknown' ? '' : way}</td
                  >{/each}</tr
              >
            {/each}
          </tbody>
        </table>
        <p class="quiet">Level while the 95 % ends hold the last value.</p>
        <h2>
          When does it reach
          <input
            class="word"
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
        {#if projected.target !== null && lastSeen !== null}
          <ul aria-label="When the target is reached">
            {#each told.models as model (model.model)}
              {@const { ahead, beyond } = reachedBy(model, projected.target, lastSeen)}
              <li>
                <strong>{model.model}</strong>
                {model.refused
                  ? 'cannot tell'
                  : ahead === undefined
                    ? `not within ${projected.horizon} rows`
                    : `${told.ahead[ahead - 1] ? `on ${timeText(told.ahead[ahead - 1])}, ` : ''}${ahead} rows ahead`}{beyond ===
                undefined
                  ? ''
                  : `; ${Math.round(100 * beyond)} of 100 of its fan lie beyond it by then`}
              </li>
            {/each}
          </ul>
        {/if}
      </section>
    </div>
  {:else if !problem}
    <p class="state" role="status">Projecting…{share > 0 ? ` ${Math.round(100 * share)} %` : ''}</p>
  {/if}
</div>

<style>
  h1 input {
    field-sizing: content;
    min-width: 3ch;
    max-width: 100%;
  }
  .out {
    margin: 2px 0;
    font-size: 15px;
  }
  .formula {
    font-family: var(--mono);
    font-size: 0.85em;
  }
  .problem,
  .state {
    margin: 0;
    padding: 12px 20px;
  }
  .problem {
    color: var(--wrong);
  }
  .parts {
    display: grid;
    grid-template-columns: minmax(0, 1.08fr) minmax(0, 1fr);
  }
  section {
    padding: 6px 20px 10px;
    min-width: 0;
    border-bottom: 1px solid var(--rule);
  }
  .two {
    display: grid;
    grid-template-columns: repeat(2, minmax(0, 1fr));
  }
  .account {
    border-left: 4px double var(--margin-rule);
    border-bottom: 0;
  }
  .page :global(h2) {
    font-size: 14px;
    margin: 6px 0 4px;
  }
  .page :global(h3) {
    font-size: 13px;
    font-weight: 400;
    font-style: italic;
    color: var(--quiet);
  }
  h2 input {
    appearance: textfield;
    field-sizing: content;
    min-width: 5ch;
  }
  .quiet {
    margin: 2px 0;
    font-size: 13px;
    color: var(--quiet);
  }
  .ways {
    margin-top: 10px;
  }
  .ways .strong {
    font-weight: 600;
  }
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
    font-size: 13.5px;
  }
  @media (max-width: 900px) {
    .parts,
    .two {
      grid-template-columns: minmax(0, 1fr);
    }
    .account {
      border-left: 0;
      border-top: 4px double var(--margin-rule);
      overflow-x: auto;
    }
  }
</style>
