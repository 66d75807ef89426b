<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Select from '$lib/components/Select.svelte';
  import { instantOf, isTimed, makeCalendar, parseBarRule, seriesFigures } from '@jaunty-ledger/core';
  import { askLatest } from '$lib/api/ask';
  import { call } from '$lib/works/call';
  import { EXAMINATION, type ExaminationBody, type ToldExamination } from '$lib/works/examination/work';
  import { fittingOrSame } from '$lib/api/fittingRule';
  import { showInView } from '$lib/components/inView.svelte';
  import type { KeptPage } from '$lib/api/pages';
  import { reasonOf } from '$lib/api/problems';
  import { calendarOptions, type Tape } from '$lib/api/tapes';
  import { linkRows } from '$lib/beside/linkRows.svelte';
  import Said from '$lib/components/Said.svelte';
  import { stretchText } from '$lib/plots/stretchText';
  import CyclePlot from './CyclePlot.svelte';
  import { besideOf, bodyOf, EXAMINE, formulaOf, smoothedOver, type Examined } from './examineAddress';
  import { filesOf, type FileName } from './examineFiles';
  import ExamineHead from './ExamineHead.svelte';
  import WriteIntoLedger from '$lib/pages/WriteIntoLedger.svelte';
  import { keepPage } from '$lib/pages/keepPage.svelte';
  import { Question } from '$lib/pages/question.svelte';
  import ExamineSentence from './ExamineSentence.svelte';
  import GroupSection from './GroupSection.svelte';
  import HurstPlots from './HurstPlots.svelte';
  import { brief } from '$lib/pictures/lines';
  import MemorySection from './MemorySection.svelte';
  import NormalPlot from '$lib/pictures/NormalPlot.svelte';
  import PartsSection from './PartsSection.svelte';
  import SectionHead from './SectionHead.svelte';
  import SeriesSection from './SeriesSection.svelte';
  import { RowsView } from '$lib/pictures/rowsView.svelte';
  import HistogramPlot from '$lib/pictures/HistogramPlot.svelte';
  import SummaryList from './SummaryList.svelte';
  import Verdicts from './Verdicts.svelte';

  let { examined, kept, tapes }: { examined: Examined; kept?: KeptPage; tapes: readonly Tape[] } = $props();

  const SHUFFLES = 200;
  /** Memory is held against copies once the page has stood still for so long. */
  const SETTLED_MS = 250;
  let told = $state.raw<ToldExamination>();
  let problem = $state('');
  let isWorking = $state(false);
  /** How far the examination under way is, 0 to 1, where it takes long. */
  let share = $state(0);
  let plots = $state<HTMLElement>();
  const view = new RowsView();

  const keeper = keepPage(
    EXAMINE,
    () => examined,
    () => kept,
  );

  const tapeNamed = (name: string | undefined) => tapes.find((one) => one.name === name);
  const tape = $derived(tapeNamed(examined.tape));
  const calendar = $derived(tape && makeCalendar(calendarOptions(tape)));
  /** The tape that the figures are of; the question may be about another one already. */
  const toldTape = $derived(tapeNamed(told?.tape));
  const toldCalendar = $derived(toldTape && makeCalendar(calendarOptions(toldTape)));
  const instants = $derived(Float64Array.from(told?.time ?? [], instantOf));
  linkRows(view, () => instants);
  /** How values of the series are written. */
  const written = $derived(seriesFigures(told?.after ?? []));
  const files = $derived(told ? filesOf(told) : []);
  const fileOf = (name: FileName) => files.find((file) => file.name === name);

  /** Questions whose answer depends on shuffled copies. */
  const AFTER_SHUFFLES = ['memory'] as const;
  // what takes no copies is there at once; what memory is compared with follows
  // equal questions are one: what is only looked at otherwise asks nothing
  const question = $derived(JSON.stringify(bodyOf(examined, 0)));
  $effect(() => {
    const asked = JSON.parse(question) as ExaminationBody;
    isWorking = true;
    problem = '';
    share = 0;
    const take = (answer: ToldExamination) => {
      told = answer;
      view.show(answer.time.length);
    };
    const refused = (error: unknown) => {
      told = undefined;
      problem = reasonOf(error);
      isWorking = false;
    };
    const askFor = (shuffles: number, then: () => void) =>
      askLatest(
        (fetcher) => call(EXAMINATION, { ...asked, shuffles }, { fetcher, onProgress: (done) => (share = done) }),
        (answer) => {
          take(answer);
          then();
        },
        refused,
      );
    let giveUp = askFor(0, () => {
      const timer = setTimeout(() => (giveUp = askFor(SHUFFLES, () => (isWorking = false))), SETTLED_MS);
      giveUp = () => clearTimeout(timer);
    });
    return () => giveUp();
  });

  $effect(() => {
    const { tape: name, bars, entry, uses, from, to } = examined;
    showInView({ tape: name, bars, entry, uses, from: from || undefined, to: to || undefined });
  });

  /** The rule as another tape can have it. */
  const ruleOn = (name: string) => fittingOrSame(examined.bars, tapeNamed(name));

  /** The same of another tape, or of another entry. */
  const otherQuestion = new Question(EXAMINATION, () => {
    const asked = besideOf(examined, ruleOn(examined.beside));
    return asked && bodyOf(asked, SHUFFLES);
  });
  const other = $derived(otherQuestion.answer);
  const besideProblem = $derived(otherQuestion.problem && `${examined.beside}: ${otherQuestion.problem}`);

  function change(what: Partial<Examined>, group = ''): void {
    const isOfOther = what.tape !== undefined && what.tape !== examined.tape;
    keeper.change({ ...(isOfOther && { bars: ruleOn(what.tape!), words: '' }), ...what }, group);
  }

  /** How long the market is open on a day. */
  const sessionMicros = $derived.by(() => {
    const clocks = toldTape?.session?.split('-').map((clock) => clock.split(':').map(Number));
    if (!clocks) return 86_400e6;
    const [opens, closes] = clocks.map(([hours, minutes]) => (hours * 60 + minutes) * 60e6);
    return closes > opens ? closes - opens : closes - opens + 86_400e6;
  });

  /** So many rows in time, for bars by the clock. */
  function lagText(rows: number): string {
    const { kind } = parseBarRule(told!.rule);
    if (!isTimed(kind) || toldTape?.precision === 'period') return '';
    if (kind.by === 'interval') {
      const sessions = (rows * kind.micros) / sessionMicros;
      return sessions < 1
        ? stretchText(rows * kind.micros)
        : `about ${brief(sessions)} ${toldTape?.session ? 'sessions' : 'days'}`;
    }
    const unit = kind.unit === 'day' ? 'trading day' : kind.unit;
    return rows === 1 ? `a ${unit}` : `${Number.isInteger(rows) ? '' : 'about '}${brief(rows)} ${unit}s`;
  }
</script>

<div class="page">
  <header class="page-head">
    <ExamineHead {keeper} {examined} {told} {files} {plots} usualTitle="{examined.entry} of {examined.tape}" />
    <ExamineSentence {examined} {tapes} {calendar} {change} />
    {#if isWorking && share > 0}<div
        class="progress"
        role="progressbar"
        aria-label="Examining"
        aria-valuenow={Math.round(share * 100)}
        style:width="{share * 100}%"
      ></div>{/if}
  </header>
  {#each [problem, besideProblem] as says, at (at)}{#if says}<p class="problem" role="alert">
        <Said text={says} />
      </p>{/if}{/each}
  {#if told && toldTape && toldCalendar}
    {@const { summary } = told}
    <div class="parts" aria-busy={isWorking}>
      <div class="plots" bind:this={plots}>
        <SeriesSection
          {told}
          {other}
          figures={written}
          tape={toldTape}
          calendar={toldCalendar}
          {view}
          {files}
          {change}
        />
        <section class="least" aria-label="Shape">
          <SectionHead file={fileOf('histogram')}>
            Shape, as
            <Select
              look="word"
              aria-label="Picture of the shape"
              value={examined.shape}
              onchange={(event) => change({ shape: event.currentTarget.value as Examined['shape'] })}
            >
              <option value="counts">counts</option>
              <option value="normal">a normal plot</option>
            </Select>
          </SectionHead>
          {#if summary.count === 0}<p>There are no values.</p>
          {:else}
            {#if examined.shape === 'counts'}<HistogramPlot histogram={told.histogram} {summary} />
            {:else}<NormalPlot normal={told.normal} {summary} />{/if}
            <SummaryList {summary} figures={written} />
          {/if}
        </section>
        <MemorySection {examined} {told} {other} file={fileOf('memory')} {lagText} {change} />
        <section aria-label="Cycle">
          <SectionHead file={fileOf('cycles')}>Cycle</SectionHead>
          <CyclePlot cycles={told.cycles} {lagText} smoothedOver={smoothedOver(examined)} />
        </section>
        <GroupSection
          {examined}
          figures={written}
          groups={told.groups}
          tape={toldTape}
          file={fileOf('groups')}
          {change}
        />
        {#if told.hurst.length > 0}<section class="wide" aria-label="Spread by length">
            <SectionHead file={fileOf('hurst')}>How far its moves spread, by the length of the stretch</SectionHead>
            <HurstPlots views={told.hurst} />
          </section>{/if}
        <PartsSection {examined} {told} {view} file={fileOf('season')} {change} />
      </div>
      <section class="verdicts" aria-label="Verdicts">
        <WriteIntoLedger tape={examined.tape} formula={formulaOf(examined)} />
        <SectionHead file={fileOf('verdicts')}>Verdicts</SectionHead>
        {#if told.changes.canBeLogs}
          <p class="changes">
            {#if told.changes.kind === 'log'}Changes are log returns{examined.changes === 'auto'
                ? ': all values are positive, and the max is more than 1.5 times the min'
                : ''}.
              <Button look="word" onclick={() => change({ changes: 'raw' })}>Use differences</Button>
            {:else}Changes are differences.
              <Button look="word" onclick={() => change({ changes: 'log' })}>Use log returns</Button>{/if}
          </p>
        {/if}
        <Verdicts
          verdicts={told.verdicts}
          pending={isWorking ? { questions: AFTER_SHUFFLES, share } : undefined}
          beside={other && {
            name: other.tape === told.tape ? examined.besideEntry || other.tape : other.tape,
            verdicts: other.verdicts,
          }}
        />
      </section>
    </div>
  {:else if !problem}
    <p class="state" role="status">Examining…{share > 0 ? ` ${Math.round(100 * share)} %` : ''}</p>
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
    grid-template-columns: minmax(0, 1.75fr) minmax(0, 1fr);
  }
  .plots {
    display: grid;
    grid-template-columns: repeat(6, minmax(0, 1fr));
    align-content: start;
  }
  .plots > :global(section) {
    grid-column: span 3;
  }
  .plots > :global(.least) {
    grid-column: span 2;
  }
  .plots > :global(.most) {
    grid-column: span 4;
  }
  .page :global(section) {
    padding: 6px 20px 10px;
    min-width: 0;
    border-bottom: 1px solid var(--rule);
  }
  .plots > :global(.wide) {
    grid-column: 1 / -1;
  }
  .changes {
    margin: 2px 0 0;
    font-size: 14px;
    color: var(--quiet);
  }
  .verdicts {
    border-left: 4px double var(--margin-rule);
    border-bottom: 0;
  }
  .page :global(h2) {
    font-size: 14px;
    margin: 2px 0 4px;
  }
  .page :global(h3) {
    font-size: 13px;
    font-weight: 400;
    font-style: italic;
    color: var(--quiet);
  }
  .page :global(.pointed) {
    margin: 0;
    min-height: 1.4em;
    font-size: 13px;
    color: var(--quiet);
  }
  @media (max-width: 900px) {
    .parts,
    .plots {
      grid-template-columns: minmax(0, 1fr);
    }
    .plots > :global(:is(section, .least, .most)) {
      grid-column: 1;
    }
    .verdicts {
      border-left: 0;
      border-top: 4px double var(--margin-rule);
    }
  }
</style>
