<script lang="ts">
  import { instantOf, lastBars, makeCalendar, pairCourse, rebasedAt, rollingMean } from '@jaunty-ledger/core';
  import { onDestroy, untrack } from 'svelte';
  import { goto } from '$app/navigation';
  import { askLatest } from '$lib/api/ask';
  import { postComparison } from '$lib/api/client';
  import { memberText, type ToldComparison } from '$lib/api/comparisons';
  import type { KeptPage } from '$lib/api/pages';
  import { reasonOf } from '$lib/api/problems';
  import { calendarOptions, type Tape } from '$lib/api/tapes';
  import { linkRows } from '$lib/beside/linkRows.svelte';
  import Said from '$lib/components/Said.svelte';
  import FigureRows from '$lib/examine/FigureRows.svelte';
  import { csvText } from '$lib/examine/examineFiles';
  import { PageKeeper } from '$lib/pages/pageKeeper.svelte';
  import PageHead from '$lib/pages/PageHead.svelte';
  import { savePictures } from '$lib/pages/savePictures';
  import { dayStarts } from '$lib/chart/calendarTicks';
  import { calendarMarks } from '$lib/pictures/calendarMarks';
  import { columnOf, isThere } from '$lib/pictures/lines';
  import { RowsView } from '$lib/pictures/rowsView.svelte';
  import { saveAs } from '$lib/plots/figuresOut';
  import { momentFigures } from '$lib/plots/stretchText';
  import { betaOf, bodyOf, COMPARE, endsOf, matrixBodyOf, type Compared } from './compareAddress';
  import CompareSentence from './CompareSentence.svelte';
  import LinesLane from './LinesLane.svelte';
  import MatrixSection from './MatrixSection.svelte';
  import PairLanes from './PairLanes.svelte';
  import PairSection from './PairSection.svelte';

  let { asked, kept, tapes }: { asked: Compared; kept?: KeptPage; tapes: readonly Tape[] } = $props();

  type Question = Parameters<typeof postComparison>[1];
  let told = $state.raw<ToldComparison>();
  let problem = $state('');
  let bonds = $state.raw<ToldComparison['pair']>();
  let correlated = $state.raw<ToldComparison>();
  let isWorking = $state(false);
  let share = $state(0);
  let isExporting = $state(false);
  let showsRows = $state(false);
  let plots = $state<HTMLElement>();
  const view = new RowsView();

  const go = (address: string, replaces: boolean) =>
    void goto(address, { keepFocus: true, noScroll: true, replaceState: replaces });
  const keeper = untrack(
    () => new PageKeeper(COMPARE, asked, kept, go, typeof localStorage === 'undefined' ? undefined : localStorage),
  );
  $effect(() => {
    const [shown, page] = [asked, kept];
    // by what the address says alone, not by what the keeper has
    untrack(() => keeper.opened(shown, page));
  });
  onDestroy(() => keeper.flush());
  const compared = $derived(keeper.now);
  const change = (what: Partial<Compared>, group = '') => keeper.change(what, group);

  // equal questions are one: what is only looked at otherwise asks nothing
  const question = $derived(JSON.stringify(bodyOf(compared)));
  $effect(() => {
    const body = JSON.parse(question) as Question;
    isWorking = true;
    share = 0;
    return askLatest(
      (fetcher) => postComparison(fetcher, body, (done) => (share = done)),
      (answer) => {
        told = answer;
        view.show(answer.count);
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

  const tape = $derived(tapes.find(({ name }) => name === compared.members[0].tape));
  const calendar = $derived(tape ? makeCalendar(calendarOptions(tape)) : makeCalendar({ zone: 'UTC' }));
  const precision = $derived(tape?.precision ?? 'moment');
  const time = $derived(told?.time ?? []);
  const instants = $derived(Float64Array.from(time, instantOf));
  linkRows(view, () => instants);
  const timeText = (row: number) => (time[row] ? momentFigures(instantOf(time[row]), calendar, precision) : '');
  const days = $derived(dayStarts(instants, calendar).rows);
  const marks = $derived(calendarMarks({ time: instants, days }, view.ends, calendar, precision));

  const NONE = new Float64Array(0);
  /** Columns as they came, and as they are drawn. */
  const columns = $derived(told?.members.map(({ values }) => (values ? columnOf(values) : undefined)) ?? []);
  const evened = (column: Float64Array) =>
    compared.smooth > 1 ? rollingMean(column, lastBars(compared.smooth), compared.smooth) : column;
  const lines = $derived(columns.map((column) => (column ? evened(column) : NONE)));
  const average = $derived(
    compared.average === 'none' || compared.scale === 'raw' || !told?.average ? NONE : evened(columnOf(told.average)),
  );
  const names = $derived(told?.members.map(memberText) ?? []);

  /** Two members that there are; the places of the address where they can be compared. */
  const pair = $derived.by(() => {
    const there = columns.flatMap((column, at) => (column ? [at] : []));
    if (there.length < 2) return undefined;
    const a = there.includes(compared.a) ? compared.a : there[0];
    const b = there.includes(compared.b) && compared.b !== a ? compared.b : there.find((at) => at !== a)!;
    return { a, b };
  });
  /** Rows of the pair's windows: those that are asked for, or half of what there is. */
  const used = $derived.by(() => {
    const most = Math.max(2, Math.floor(time.length / 2));
    return { window: Math.min(most, compared.window), rows: Math.min(most, compared.behind) };
  });
  const course = $derived.by(() => {
    if (!pair || time.length < 3) return undefined;
    const { of, by, partedBy } = compared;
    const choices = { of, by, partedBy, beta: betaOf(compared.beta), ...endsOf(compared) };
    return pairCourse(columns[pair.a]!, columns[pair.b]!, { ...choices, ...used });
  });

  // correlations are asked for by themselves, so that a window that is turned brings no columns again
  const matrixQuestion = $derived(JSON.stringify(matrixBodyOf(compared)));
  $effect(() => {
    const body = JSON.parse(matrixQuestion) as Question;
    return askLatest(
      (fetcher) => postComparison(fetcher, body),
      (answer) => (correlated = answer),
      () => (correlated = undefined), // the other question has been refused, too, and says why
    );
  });

  // what goes by no window takes long of many rows, and is asked of the server once a pair
  const bondsQuestion = $derived(
    pair && JSON.stringify({ ...bodyOf(compared), columns: false, pair: { ...pair, lags: 20 } }),
  );
  $effect(() => {
    bonds = undefined;
    if (!bondsQuestion) return;
    const body = JSON.parse(bondsQuestion) as Question;
    return askLatest(
      (fetcher) => postComparison(fetcher, body),
      (answer) => (bonds = answer.pair),
      (error) => (problem = reasonOf(error)),
    );
  });

  /** The figures as rows, and as CSV. */
  const figures = $derived.by(() => {
    const rebased = lines.map((line) => (line.length > 0 ? rebasedAt(line) : line));
    const cell = (value: number | undefined) => (isThere(value) ? value : null);
    return {
      says: 'the members on common rows',
      head: ['time', ...names, ...names.map((name) => `${name} rebased`), 'average'],
      rows: time.map((at, row) => [
        at,
        ...columns.map((column) => cell(column?.[row])),
        ...rebased.map((line) => cell(line[row])),
        cell(average[row]),
      ]),
    };
  });
  const saveRows = () => saveAs(new Blob([csvText(figures)], { type: 'text/csv' }), 'comparison.csv');
</script>

<div class="page">
  <header class="page-head">
    <PageHead {keeper} name="Compare" several="comparisons" usualTitle={names.slice(0, 6).join(', ')}>
      {#snippet acts()}
        <a href="/roll" class="aside">the roll</a>
        <a href="/beside" class="aside">side by side</a>
        <button
          type="button"
          class="aside"
          disabled={!told}
          aria-expanded={showsRows}
          onclick={() => (showsRows = !showsRows)}>rows</button
        >
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
        The rows as <button type="button" class="word" onclick={saveRows}>CSV</button>, all pictures as
        <button type="button" class="word" onclick={() => savePictures(plots, 'comparison', 'svg')}>SVG</button>
        or <button type="button" class="word" onclick={() => savePictures(plots, 'comparison', 'png')}>PNG</button>.
      </p>
    {/if}
    <CompareSentence {compared} {tapes} {calendar} {change} />
    {#if isWorking && share > 0}<div
        class="progress"
        role="progressbar"
        aria-label="Comparing"
        aria-valuenow={Math.round(share * 100)}
        style:width="{share * 100}%"
      ></div>{/if}
  </header>
  {#each [problem, ...(told?.says ?? [])] as says, at (at)}{#if says}<p
        class={at === 0 ? 'problem' : 'note'}
        role={at === 0 ? 'alert' : 'note'}
      >
        <Said text={says} />
      </p>{/if}{/each}
  {#if told && showsRows}<div class="rows"><FigureRows file={figures} /></div>{/if}
  {#if told}
    <div class="parts" aria-busy={isWorking}>
      <div bind:this={plots}>
        <LinesLane
          {tapes}
          {compared}
          {told}
          {names}
          {lines}
          {average}
          {view}
          {marks}
          {timeText}
          stretches={course?.stretches ?? []}
          {change}
        />
        {#if pair && course}
          <PairLanes
            {used}
            {compared}
            {course}
            {bonds}
            names={[names[pair.a], names[pair.b]]}
            {view}
            {marks}
            {timeText}
            {change}
          />
        {/if}
      </div>
      <section class="beside" aria-label="Pairs">
        {#if correlated && correlated.members.length === names.length}<MatrixSection
            {compared}
            told={correlated}
            {names}
            {pair}
            {change}
          />{/if}
        {#if pair && course}
          <PairSection
            {used}
            {compared}
            {course}
            {bonds}
            names={[names[pair.a], names[pair.b]]}
            {view}
            {timeText}
            {change}
          />
        {:else if told.members.length > 0}<p class="quiet">Two members with values are needed for a pair.</p>{/if}
      </section>
    </div>
  {:else if !problem}
    <p class="state" role="status">Comparing…{share > 0 ? ` ${Math.round(100 * share)} %` : ''}</p>
  {/if}
</div>

<style>
  .out {
    margin: 2px 0;
    font-size: 15px;
  }
  .problem,
  .note,
  .state {
    margin: 0;
    padding: 10px 20px;
  }
  .problem {
    color: var(--wrong);
  }
  .note {
    padding-bottom: 0;
    color: var(--quiet);
    font-size: 14px;
  }
  .rows {
    padding: 6px 20px;
  }
  .parts {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 384px;
  }
  .beside {
    border-left: 1px solid var(--rule);
    padding: 6px 20px 10px;
    min-width: 0;
  }
  .page :global(h2) {
    font-size: 14px;
    margin: 6px 0 4px;
  }
  .page :global(.quiet) {
    margin: 2px 0;
    font-size: 13px;
    color: var(--quiet);
  }
  @media (max-width: 1000px) {
    .parts {
      grid-template-columns: minmax(0, 1fr);
    }
    .beside {
      border-left: 0;
      border-top: 4px double var(--margin-rule);
    }
  }
</style>
