<script lang="ts">
  import { BarRuleError, instantOf, isTimed, makeCalendar, parseBarRule, PROFILES } from '@jaunty-ledger/core';
  import { goto } from '$app/navigation';
  import { askLatest } from '$lib/api/ask';
  import { postExamination } from '$lib/api/client';
  import { fittingRule } from '$lib/api/fittingRule';
  import type { ToldExamination } from '$lib/api/examinations';
  import { reasonOf } from '$lib/api/problems';
  import { calendarOptions, type Tape } from '$lib/api/tapes';
  import { momentText } from '$lib/chart/calendarTicks';
  import Said from '$lib/components/Said.svelte';
  import { saveAs } from '$lib/plots/figuresOut';
  import { momentFigures, stretchText } from '$lib/plots/stretchText';
  import CyclePlot from './CyclePlot.svelte';
  import ExamineSentence from './ExamineSentence.svelte';
  import { addressOf, bodyOf, formulaOf, type Examined } from './examineAddress';
  import { brief } from './lines';
  import { filesOf, pictureText } from './examineFiles';
  import MemorySection from './MemorySection.svelte';
  import NormalPlot from './NormalPlot.svelte';
  import PartsSection from './PartsSection.svelte';
  import ProfilePlot from './ProfilePlot.svelte';
  import SeriesPlot from './SeriesPlot.svelte';
  import ShapePlot from './ShapePlot.svelte';
  import Verdicts from './Verdicts.svelte';

  let { examined, tapes }: { examined: Examined; tapes: readonly Tape[] } = $props();

  const SHUFFLES = 200;
  let told = $state.raw<ToldExamination>();
  /** The same of another tape. */
  let other = $state.raw<ToldExamination>();
  let problem = $state('');
  let isWorking = $state(false);
  let pointer = $state<number>();
  let shapeAs = $state<'counts' | 'normal'>('counts');
  let isExporting = $state(false);
  let plots = $state<HTMLElement>();

  const tapeNamed = (name: string | undefined) => tapes.find((one) => one.name === name);
  const tape = $derived(tapeNamed(examined.tape));
  const calendar = $derived(tape && makeCalendar(calendarOptions(tape)));
  /** The tape that the figures are of; the question may be about another one already. */
  const toldTape = $derived(tapeNamed(told?.tape));
  const toldCalendar = $derived(toldTape && makeCalendar(calendarOptions(toldTape)));

  // what takes no copies is there at once; what memory is held against follows
  $effect(() => {
    const asked = examined;
    isWorking = true;
    problem = '';
    const askFor = (shuffles: number, take: (answer: ToldExamination) => void) =>
      askLatest(
        (fetcher) => postExamination(fetcher, bodyOf(asked, shuffles)),
        (answer) => {
          told = answer;
          take(answer);
        },
        (error) => {
          told = undefined;
          problem = reasonOf(error);
          isWorking = false;
        },
      );
    let giveUp = askFor(0, () => {
      giveUp = askFor(SHUFFLES, () => (isWorking = false));
    });
    return () => giveUp();
  });

  /** The rule as another tape can have it. What is no rule stays: whoever reads it says what is wrong. */
  function ruleOn(name: string): string {
    const other = tapeNamed(name);
    try {
      return other ? fittingRule(examined.bars, other) : examined.bars;
    } catch (error) {
      if (!(error instanceof BarRuleError)) throw error;
      return examined.bars;
    }
  }

  $effect(() => {
    const { beside: name } = examined;
    other = undefined;
    if (!name) return;
    const asked = { ...examined, tape: name, bars: ruleOn(name) };
    return askLatest(
      (fetcher) => postExamination(fetcher, bodyOf(asked, SHUFFLES)),
      (whole) => (other = whole),
      (error) => (problem = `${name}: ${reasonOf(error)}`),
    );
  });

  const fileName = (what: string) => `${examined.tape}_${what}`.replaceAll(/[^\w-]+/g, '_');

  /** Each picture of the page as a file. */
  function savePictures(): void {
    for (const picture of plots?.querySelectorAll('svg') ?? [])
      saveAs(
        new Blob([pictureText(picture)], { type: 'image/svg+xml' }),
        `${fileName((picture.getAttribute('aria-label') ?? 'picture').slice(0, 40))}.svg`,
      );
  }

  const change = (what: Partial<Examined>) =>
    void goto(addressOf({ ...examined, ...(what.tape && { bars: ruleOn(what.tape) }), ...what }), {
      keepFocus: true,
      noScroll: true,
    });

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
    if (!isTimed(kind) || isUndated) return '';
    if (kind.by === 'interval') {
      const sessions = (rows * kind.micros) / sessionMicros;
      return sessions < 1
        ? stretchText(rows * kind.micros)
        : `about ${brief(sessions)} ${toldTape?.session ? 'sessions' : 'days'}`;
    }
    return rows >= 2 ? `about ${brief(rows)} ${kind.unit}s` : `a ${kind.unit}`;
  }

  /** The first value of each year, month or day, whichever are few enough to be named. */
  const marks = $derived.by(() => {
    if (!told || !toldCalendar || !toldTape) return [];
    const { precision } = toldTape;
    const texts = told.time.map((time) => momentFigures(instantOf(time), toldCalendar, precision));
    const length = [4, 7, 10].find((chars) => new Set(texts.map((text) => text.slice(0, chars))).size > 2) ?? 10;
    const found = texts.flatMap((text, at) =>
      at > 0 && text.slice(0, length) !== texts[at - 1].slice(0, length) ? [{ at, text: text.slice(0, length) }] : [],
    );
    const step = Math.ceil(found.length / 8);
    return found.filter((_, index) => index % step === 0);
  });
  const pointed = $derived(
    told && toldCalendar && toldTape && pointer !== undefined && told.time[pointer]
      ? `${momentText(instantOf(told.time[pointer]), toldCalendar, toldTape.precision)}: ${brief(told.before[pointer])}${
          told.treatments.length > 0 ? `, then ${brief(told.after[pointer])}` : ''
        }`
      : '',
  );
  const hasClock = $derived(toldTape?.precision === 'moment');
  const isUndated = $derived(toldTape?.precision === 'period');
</script>

<div class="page">
  <header class="page-head">
    <p class="book">
      <strong>Jaunty Ledger</strong> <em>Examine</em>
      {#if told}<button
          type="button"
          class="aside"
          aria-expanded={isExporting}
          onclick={() => (isExporting = !isExporting)}>export</button
        >{/if}
    </p>
    <ExamineSentence {examined} {tapes} {calendar} precision={tape?.precision ?? 'moment'} {change} />
  </header>
  {#if isExporting && told}
    <p class="files">
      As CSV: {#each filesOf(told) as { says, name, text }, at (name)}{at > 0 ? ', ' : ''}<button
          type="button"
          class="word"
          onclick={() => saveAs(new Blob([text], { type: 'text/csv' }), `${fileName(name)}.csv`)}>{says}</button
        >{/each}. As SVG: <button type="button" class="word" onclick={savePictures}>all pictures</button>.
    </p>
  {/if}
  {#if problem}<p class="problem" role="alert"><Said text={problem} /></p>{/if}
  {#if told}
    {@const { summary } = told}
    <div class="parts" aria-busy={isWorking}>
      <div class="plots" bind:this={plots}>
        <section aria-label="The series">
          <h2>
            {told.phrase}, as it stands{told.every > 1
              ? `; every ${told.every}th of ${told.rows.toLocaleString('en')} rows is drawn`
              : ''}
          </h2>
          <SeriesPlot
            label="{told.phrase}, as it stands"
            values={told.before}
            mean={told.treatments.length === 0 ? summary.mean : null}
            {marks}
            showsTexts={told.treatments.length === 0}
            {pointer}
            onpoint={(at) => (pointer = at)}
          />
          {#if told.treatments.length > 0}
            <h2>{told.treatments.join(', then ')}</h2>
            <SeriesPlot
              label={told.treatments.join(', then ')}
              values={told.after}
              mean={summary.mean}
              ink="var(--blue)"
              {marks}
              showsTexts
              {pointer}
              onpoint={(at) => (pointer = at)}
            />
          {/if}
          <p class="pointed" role="status">{pointed}</p>
          {#if other}
            <h2>
              {other.phrase} of {other.tape}{other.treatments.length > 0 ? `, ${other.treatments.join(', then ')}` : ''}
            </h2>
            <SeriesPlot
              label="{other.phrase} of {other.tape}"
              values={other.after}
              mean={other.summary.mean}
              ink="var(--ink-1)"
              pointer={undefined}
              onpoint={() => undefined}
            />
          {/if}
        </section>
        <section aria-label="Shape">
          <h2>
            Shape, as
            <select class="word" aria-label="Picture of the shape" bind:value={shapeAs}>
              <option value="counts">counts</option>
              <option value="normal">a normal plot</option>
            </select>
          </h2>
          {#if summary.count === 0}<p>There is no value.</p>
          {:else}
            {#if shapeAs === 'counts'}<ShapePlot histogram={told.histogram} {summary} />
            {:else}<NormalPlot normal={told.normal} {summary} />{/if}
            <dl>
              {#each [['values', summary.count], ['missing', summary.missing], ['zeros', summary.zeros]] as const as [says, count] (says)}<dt
                >
                  {says}
                </dt>
                <dd>{count.toLocaleString('en')}</dd>{/each}
              {#each [['mean', summary.mean], ['standard deviation', summary.stdev], ['least', summary.least], ['lower quartile', summary.quartiles[0]], ['median', summary.quartiles[1]], ['upper quartile', summary.quartiles[2]], ['greatest', summary.greatest], ['skewness', summary.skewness], ['kurtosis', summary.kurtosis]] as const as [says, value] (says)}<dt
                >
                  {says}
                </dt>
                <dd>{brief(value)}</dd>{/each}
            </dl>
          {/if}
        </section>
        <MemorySection {examined} {told} {other} {lagText} {change} />
        <section aria-label="Cycle">
          <h2>Cycle</h2>
          <CyclePlot cycles={told.cycles} {lagText} />
        </section>
        {#if !isUndated}<section aria-label="By the calendar">
            <h2>
              By the
              <select
                class="word"
                aria-label="What rows are put together by"
                value={examined.profile ?? ''}
                onchange={(event) =>
                  change({ profile: (event.currentTarget.value || undefined) as Examined['profile'] })}
              >
                <option value="">calendar…</option>
                {#each PROFILES.filter((by) => hasClock || (by !== 'slot' && by !== 'hour')) as by (by)}<option
                    value={by}>{by === 'slot' ? 'slot of the session' : by === 'day' ? 'day of the month' : by}</option
                  >{/each}
              </select>
            </h2>
            {#if told.profile && told.profile.groups.length > 0}<ProfilePlot profile={told.profile} />{/if}
          </section>{/if}
        <PartsSection {examined} {told} {change} {pointer} onpoint={(at) => (pointer = at)} />
      </div>
      <section class="verdicts" aria-label="Verdicts">
        <p class="add">
          <a href="/ledger?{new URLSearchParams({ tape: examined.tape, write: formulaOf(examined) })}"
            >Write it into the ledger</a
          >: <code>{formulaOf(examined)}</code>
        </p>
        <h2>Verdicts{isWorking ? ', memory still at work' : ''}</h2>
        <Verdicts verdicts={told.verdicts} beside={other && { name: other.tape, verdicts: other.verdicts }} />
      </section>
    </div>
  {:else if !problem}
    <p class="state" role="status">Examining…</p>
  {/if}
</div>

<style>
  .add {
    margin: 2px 0 6px;
    font-size: 13px;
    color: var(--quiet);
  }
  .add code {
    font-family: var(--mono);
    font-size: 12px;
  }
  .files {
    margin: 0;
    padding: 8px 20px;
    border-bottom: 1px solid var(--rule);
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
    grid-template-columns: minmax(0, 1.75fr) minmax(0, 1fr);
  }
  .plots {
    display: grid;
    grid-template-columns: repeat(2, minmax(0, 1fr));
    align-content: start;
  }
  .page :global(section) {
    padding: 6px 20px 10px;
    min-width: 0;
    border-bottom: 1px solid var(--rule);
  }
  .page :global(.wide) {
    grid-column: 1 / -1;
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
  .page :global(h2 input) {
    appearance: textfield;
    field-sizing: content;
    min-width: 3ch;
  }
  .page :global(.pointed) {
    margin: 0;
    min-height: 1.4em;
    font-size: 13px;
    color: var(--quiet);
  }
  dl {
    display: grid;
    grid-template-columns: repeat(2, auto minmax(0, 1fr));
    gap: 0 12px;
    margin: 6px 0 0;
    font-size: 13px;
  }
  dt {
    color: var(--quiet);
  }
  dd {
    margin: 0;
  }
  @media (max-width: 900px) {
    .parts,
    .plots {
      grid-template-columns: minmax(0, 1fr);
    }
    .verdicts {
      border-left: 0;
      border-top: 4px double var(--margin-rule);
    }
  }
</style>
