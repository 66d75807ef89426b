<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Input from '$lib/components/Input.svelte';
  import { onDestroy, untrack } from 'svelte';
  import { instantOf, isTimed, makeCalendar, parseBarRule, seriesFigures } from '@jaunty-ledger/core';
  import type { KeptPage } from '$lib/api/pages';
  import type { AccuracyBody } from '$lib/works/accuracy/work';
  import { PROJECTION } from '$lib/works/projection/work';
  import { calendarOptions, type Tape } from '$lib/api/tapes';
  import Said from '$lib/components/Said.svelte';
  import PageHead from '$lib/pages/PageHead.svelte';
  import { chartOf, draftOf, givenOf, verdictOf, type HandedOver } from '$lib/handover/blocks';
  import HandOver from '$lib/handover/HandOver.svelte';
  import { picturesIn } from '$lib/handover/picturesIn';
  import WriteIntoLedger from '$lib/pages/WriteIntoLedger.svelte';
  import ExportLine from '$lib/pages/ExportLine.svelte';
  import { keepPage } from '$lib/pages/keepPage.svelte';
  import { Question } from '$lib/pages/question.svelte';
  import WorkProgress from '$lib/pages/WorkProgress.svelte';
  import { momentFigures } from '$lib/plots/stretchText';
  import Account from './Account.svelte';
  import { answerOf, Backtests } from './backtests.svelte';
  import AllAtHorizon from './AllAtHorizon.svelte';
  import ErrorByHorizon from './ErrorByHorizon.svelte';
  import Enlargeable from '$lib/pictures/Enlargeable.svelte';
  import FocusSection from './FocusSection.svelte';
  import { isOfLogs, ofLogs, ofValues, PROJECT, projectionFormula, type Projected } from './projectAddress';
  import { showInView } from '$lib/components/inView.svelte';
  import ProjectChart from './ProjectChart.svelte';
  import ProjectSentence from './ProjectSentence.svelte';
  import TargetSection from './TargetSection.svelte';
  import WaysTable from './WaysTable.svelte';

  let { projected, kept, tapes }: { projected: Projected; kept?: KeptPage; tapes: readonly Tape[] } = $props();

  const backtests = new Backtests();
  let isExporting = $state(false);
  let plots = $state<HTMLElement>();

  const keeper = keepPage(
    PROJECT,
    () => projected,
    () => kept,
  );

  const tapeNamed = (name: string | undefined) => tapes.find((one) => one.name === name);
  const tape = $derived(tapeNamed(projected.tape));
  const calendar = $derived(tape && makeCalendar(calendarOptions(tape)));
  const precision = $derived(tape?.precision ?? 'moment');

  const shared = $derived({
    ...{ tape: projected.tape, bars: projected.bars, entry: projected.entry, entries: projected.uses },
    ...{ models: projected.models, horizon: projected.horizon },
    ...((projected.from || projected.to) && {
      stretch: { ...(projected.from && { from: projected.from }), ...(projected.to && { to: projected.to }) },
    }),
  });
  const question = new Question(PROJECTION, () => ({
    ...shared,
    ...(projected.origin && { origin: projected.origin }),
    ...(projected.driver && { driver: projected.driver }),
  }));
  const told = $derived(question.answer);
  const accuracyQuestion = $derived(JSON.stringify(shared));

  $effect(() => {
    const body = JSON.parse(accuracyQuestion) as AccuracyBody;
    untrack(() => backtests.ask(body));
  });
  onDestroy(() => backtests.clear());

  const change = (what: Partial<Projected>, group = '') => keeper.change(what, group);

  $effect(() => {
    const { tape: name, bars, entry, uses, from, to } = projected;
    showInView({ tape: name, bars, entry, uses, from: from || undefined, to: to || undefined });
  });

  /** How exactly times are told: bars of days and longer have no clock. */
  const toldPrecision = $derived.by(() => {
    if (!told || precision !== 'moment') return precision;
    const { kind } = parseBarRule(told.rule);
    return isTimed(kind) && kind.by === 'period' ? 'day' : precision;
  });
  const timeText = (time: string) => (calendar ? momentFigures(instantOf(time), calendar, toldPrecision) : time);
  const originTime = $derived(told ? told.time[told.origin - told.from] : undefined);

  /** An origin at the place of a value; at the last one it is left open, so that it follows the tape. */
  const setOrigin = (place: number) =>
    change({ origin: place >= told!.rows - 1 ? '' : told!.time[place - told!.from] }, 'origin');

  const level = $derived(seriesFigures(told?.values ?? []).level);
  const figureText = (value: number | null) => (value === null ? '' : level(value));

  function lagText(rows: number): string {
    const { kind } = parseBarRule(told!.rule);
    return isTimed(kind) && kind.by === 'period' ? `${rows} ${kind.unit}s` : `${rows} rows`;
  }

  const isBacktesting = $derived([...backtests.all.values()].some(({ state }) => state === 'computing'));
  const lastSeen = $derived(told ? (told.values[told.origin - told.from] ?? null) : null);
  const focus = $derived(Math.min(projected.focus, projected.models.length - 1));

  function rowsAhead() {
    const { ahead, models, origin, from, values } = told!;
    const head = ['time', 'actual', ...models.flatMap(({ model }) => [model, `${model} low 95`, `${model} high 95`])];
    const rows = Array.from({ length: projected.horizon }, (_, h) => [
      ahead[h] ?? null,
      values[origin - from + 1 + h] ?? null,
      ...models.flatMap(({ value, low95, high95 }) => [value[h] ?? null, low95[h] ?? null, high95[h] ?? null]),
    ]);
    // nothing has come yet after the last bar
    const filled = head.map((_, column) => rows.some((row) => row[column] !== null));
    const withValues = <Cell,>(cells: readonly Cell[]) => cells.filter((_, column) => filled[column]);
    return { says: 'the bars ahead', head: withValues(head), rows: rows.map(withValues) };
  }
  const source = $derived(
    told
      ? `${projected.entry} of ${told.tape}, bars of ${told.rule}; from Project, taken ${new Date().toISOString().slice(0, 10)}`
      : '',
  );
  const handedOver: HandedOver[] = [
    {
      says: 'a chart of the model in focus',
      make: async (sources) => {
        const { tape: of, bars, entry, uses, horizon, models, focus } = projected;
        const model = models[focus] ?? models[0];
        const text = `projected = projection(${entry}, "${model}", ${horizon})`;
        const from = told!.time[Math.max(0, told!.time.length - 8 * horizon)] ?? '';
        const setting = {
          tape: of,
          bars,
          flagged: true,
          alone: null,
          entries: [...uses, `shown = ${entry}`, text],
          from,
          to: '',
        };
        const line = (column: string, label: string, as: 'plain' | 'strong' | 'pale', ink: number) => ({
          ...{ column, label, as, ink },
        });
        const lines = [
          line('shown', entry, 'plain', 0),
          line('projected', model, 'strong', 2),
          line('projected.low', '95 % from', 'pale', 7),
          line('projected.high', '95 % to', 'pale', 7),
        ];
        const title = `${entry} of ${of} by ${model}`;
        return [
          await chartOf(title, setting, [{ lines, scale: 'fit', unit: '', prefix: '' }], sources),
          await draftOf({ ...setting, entries: [...uses, text] }, sources),
        ];
      },
    },
    { says: 'the forecasts', make: async () => [givenOf('Values ahead, by model', rowsAhead(), source)] },
    {
      says: 'the verdicts on its errors',
      make: async () =>
        [...backtests.all.values()].flatMap((backtest) => {
          const found = answerOf(backtest);
          return found ? [verdictOf(`How far to trust ${found.model}`, found.says, '', source)] : [];
        }),
    },
    { says: 'the pictures', make: () => picturesIn(plots, source) },
  ];
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
        <HandOver title="{projected.entry} of {projected.tape}, projected" choices={handedOver} disabled={!told} />
        <Button disabled={!told} aria-expanded={isExporting} onclick={() => (isExporting = !isExporting)}>export</Button
        >
      {/snippet}
    </PageHead>
    {#if isExporting && told}<ExportLine
        about={told.tape}
        tables={[{ name: 'projection', says: 'the bars ahead', table: rowsAhead }]}
        {plots}
      />{/if}
    <ProjectSentence {projected} {tapes} {calendar} {timeText} {change} />
    <WorkProgress says="Projecting" {question} />
  </header>
  {#if question.problem}<p class="problem" role="alert"><Said text={question.problem} /></p>{/if}
  {#if told && calendar}
    <div class="parts" aria-busy={question.isWorking || isBacktesting} bind:this={plots}>
      <div class="plots">
        <section aria-label="The projection">
          <h2>
            {told.phrase}; the last value seen is {figureText(lastSeen)}, {originTime
              ? timeText(originTime)
              : ''}{told.missing > 0 ? `; ${told.missing.toLocaleString('en')} missing values are left out` : ''}
          </h2>
          <Enlargeable label="the forecasts">
            <ProjectChart
              {told}
              horizon={projected.horizon}
              {focus}
              target={projected.target}
              {calendar}
              precision={toldPrecision}
              {timeText}
              onorigin={setOrigin}
              ontarget={(target) => change({ target }, 'target')}
            />
            <p class="quiet">
              Drag the line back to forecast from an earlier date; later data are not used. Dotted: actual values.
            </p>
          </Enlargeable>
        </section>
        <div class="two">
          <section aria-label="Error by horizon">
            <h2>Error by horizon, relative to the last value (1 = equal)</h2>
            <ErrorByHorizon {backtests} models={projected.models} horizon={projected.horizon} {focus} />
          </section>
          <section aria-label="All models">
            <h2>
              All forecasts {projected.horizon} bars ahead, as a share of
              <Input
                look="word"
                class="formula"
                aria-label="Driver"
                placeholder="nothing"
                title="A column or formula that it is a share of, such as volume or SALT.close"
                value={projected.driver}
                onchange={(event) => change({ driver: event.currentTarget.value.trim() })}
              />
            </h2>
            <AllAtHorizon {told} horizon={projected.horizon} {figureText} />
          </section>
        </div>
      </div>
      <section class="account" aria-label="Forecasts">
        <h2>Forecasts</h2>
        <Account
          models={projected.models}
          {told}
          {backtests}
          horizon={projected.horizon}
          steps={projected.steps}
          {focus}
          {figureText}
          {change}
        />
        {#if isOfLogs(projected.models)}
          <p class="quiet">
            Models of the logarithm suit values that are all positive and have moved by more than 1.5 times.
            <Button look="word" onclick={() => change({ models: ofValues(projected.models) })}>Use the values</Button>
          </p>
        {:else if told.values.every((value) => value === null || value > 0)}
          <p class="quiet">
            Models are of the values.
            <Button look="word" onclick={() => change({ models: ofLogs(projected.models) })}>Use their logarithm</Button
            >
          </p>
        {/if}
        {#if told.models[focus]}
          <WriteIntoLedger tape={projected.tape} formula={projectionFormula(projected, told.models[focus].model)} />
          <FocusSection
            told={told.models[focus]}
            backtest={backtests.all.get(told.models[focus].model)}
            seen={told.origin + 1}
            horizon={projected.horizon}
            last={lastSeen}
            when={told.ahead[projected.horizon - 1] ? timeText(told.ahead[projected.horizon - 1]) : ''}
            {figureText}
            {lagText}
            lags={projected.lags}
            changeLags={(lags) => change({ lags }, 'lags')}
            put={(model) => projected.models.includes(model) || change({ models: [...projected.models, model] })}
          />{/if}
        <WaysTable models={told.models} />
        <TargetSection {told} {projected} {calendar} last={lastSeen} {timeText} {figureText} {change} />
      </section>
    </div>
  {:else if !question.problem && !question.isStopped}
    <p class="state" role="status">Projecting…{question.share > 0 ? ` ${Math.round(100 * question.share)} %` : ''}</p>
  {/if}
</div>

<style>
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
  .page :global(.quiet) {
    margin: 2px 0;
    font-size: 13px;
    color: var(--quiet);
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
