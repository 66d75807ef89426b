<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import { onDestroy, untrack } from 'svelte';
  import {
    instantOf,
    lastBars,
    makeCalendar,
    orderedMatrix,
    rebased as rebasedAt,
    rollingMean,
  } from '@jaunty-ledger/core';
  import { COMPARISON, memberText, toldMatrix } from '$lib/works/comparison/work';
  import type { KeptPage } from '$lib/api/pages';
  import { calendarOptions, type Tape } from '$lib/api/tapes';
  import { linkRows } from '$lib/beside/linkRows.svelte';
  import Said from '$lib/components/Said.svelte';
  import { givenOf, type HandedOver } from '$lib/handover/blocks';
  import HandOver from '$lib/handover/HandOver.svelte';
  import { picturesIn } from '$lib/handover/picturesIn';
  import ExportLine from '$lib/pages/ExportLine.svelte';
  import FigureRows from '$lib/pages/FigureRows.svelte';
  import { keepPage } from '$lib/pages/keepPage.svelte';
  import { Question } from '$lib/pages/question.svelte';
  import WorkProgress from '$lib/pages/WorkProgress.svelte';
  import PageHead from '$lib/pages/PageHead.svelte';
  import { calendarMarks } from '$lib/pictures/calendarMarks';
  import { columnOf, isThere } from '$lib/pictures/lines';
  import { RowsView } from '$lib/pictures/rowsView.svelte';
  import { momentFigures } from '$lib/plots/stretchText';
  import { bodyOf, bondsBodyOf, COMPARE, matrixBodyOf, type Compared } from './compareAddress';
  import { chartOfMembers } from './chartOfMembers';
  import { showInView } from '$lib/components/inView.svelte';
  import CompareSentence from './CompareSentence.svelte';
  import LinesLane from './LinesLane.svelte';
  import MatrixSection from './MatrixSection.svelte';
  import PairLanes from './PairLanes.svelte';
  import PairSection from './PairSection.svelte';
  import { PairView } from './pairView.svelte';
  import { TapesFollower } from '$lib/pages/tapesFollower.svelte';

  let { asked, kept, tapes }: { asked: Compared; kept?: KeptPage; tapes: readonly Tape[] } = $props();

  let isExporting = $state(false);
  let showsRows = $state(false);
  let plots = $state<HTMLElement>();
  const view = new RowsView();

  const keeper = keepPage(
    COMPARE,
    () => asked,
    () => kept,
    { addressAfterMs: 200 },
  );
  const compared = $derived(keeper.now);
  const change = (what: Partial<Compared>, group = '') => keeper.change(what, group);

  $effect(() => {
    const { members, bars, from, to } = compared;
    const [{ tape, entry }] = members;
    showInView({ tape, bars, entry, from: from || undefined, to: to || undefined });
  });

  const following = new TapesFollower(() => compared.members.map((member) => member.tape));
  onDestroy(() => following.stop());
  const tapesAsked = $derived([...new Set(compared.members.map((member) => member.tape))].join());
  $effect(() => {
    void tapesAsked;
    untrack(() => following.again());
  });
  const round = () => following.round;
  const question = new Question(COMPARISON, () => bodyOf(compared), {
    again: round,
    onAnswer: ({ count }, isSame) => (isSame ? view.grow(count) : view.show(count)),
  });
  const told = $derived(question.answer);

  const tape = $derived(tapes.find(({ name }) => name === compared.members[0].tape));
  const calendar = $derived(tape ? makeCalendar(calendarOptions(tape)) : makeCalendar({ zone: 'UTC' }));
  const precision = $derived(tape?.precision ?? 'moment');
  const time = $derived(told?.time ?? []);
  const instants = $derived(Float64Array.from(time, instantOf));
  linkRows(view, () => instants);
  const timeText = (row: number) => (time[row] ? momentFigures(instantOf(time[row]), calendar, precision) : '');
  const marksIn = $derived(calendarMarks(instants, calendar, precision));
  const marks = $derived(marksIn(view.window, view.widthPx));

  const NONE = new Float64Array(0);
  // by themselves, so that a number that is turned leaves the others as they are
  const smooth = $derived(compared.smooth);
  const hasAverage = $derived(compared.average !== 'none' && compared.scale !== 'raw');
  /** Columns as they came, and as they are drawn. */
  const columns = $derived(told?.members.map(({ values }) => (values ? columnOf(values) : undefined)) ?? []);
  const averaged = $derived(columnOf(told?.average ?? []));
  const evened = (column: Float64Array) => (smooth > 1 ? rollingMean(column, lastBars(smooth), smooth) : column);
  const lines = $derived(columns.map((column) => (column ? evened(column) : NONE)));
  const average = $derived(hasAverage ? evened(averaged) : NONE);
  const names = $derived(told?.members.map(memberText) ?? []);

  /** The places of two members that there are: those of the address where they can be compared. */
  const there = $derived(columns.flatMap((column, at) => (column ? [at] : [])));
  const a = $derived(there.includes(compared.a) ? compared.a : there[0]);
  const b = $derived(there.includes(compared.b) && compared.b !== a ? compared.b : there.find((at) => at !== a));
  const pair = $derived(a === undefined || b === undefined ? undefined : { a, b });
  const pairView = new PairView(
    () => pair && { a: columns[pair.a]!, b: columns[pair.b]! },
    () => compared,
  );

  /** Pairs times rows that are correlated here, at once; more is asked of the server. */
  const MOST_HERE = 3e7;
  const MOST_ORDERED_HERE = 120;
  const window = $derived(compared.matrix === 'all' ? time.length : compared.window);
  const isHere = $derived(
    columns.length <= MOST_ORDERED_HERE && columns.length ** 2 * Math.min(window, time.length) <= MOST_HERE,
  );
  const here = $derived.by(() => {
    if (!isHere || !told) return undefined;
    const { of, order } = compared;
    return toldMatrix(orderedMatrix(columns, { of, window, order, reference: a, names }));
  });
  const far = new Question(COMPARISON, () => (told && !isHere ? matrixBodyOf(compared) : undefined));
  const matrix = $derived(here ?? far.current?.matrix);

  // what goes by no window takes long of many rows, and is asked of the server once a pair
  const bondsQuestion = new Question(COMPARISON, () => pair && bondsBodyOf(compared, pair), { again: round });
  const bonds = $derived(bondsQuestion.current?.pair);
  const problem = $derived(question.problem || far.problem || bondsQuestion.problem);

  function figures() {
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
  }
  const source = $derived(
    told ? `${names.slice(0, 12).join(', ')}, bars of ${compared.bars}, ${told.count} common rows; from Compare` : '',
  );
  const handedOver: HandedOver[] = [
    {
      says: 'a chart of the lines',
      make: async (sources) => {
        const title = `${names.slice(0, 6).join(', ')}, ${compared.scale === 'raw' ? 'as they stand' : '100 at the first row'}`;
        return [await chartOfMembers(title, compared, sources)];
      },
    },
    {
      says: 'the correlations',
      make: async () => {
        if (!matrix) return [];
        const { order, values } = matrix;
        const shown = order.slice(0, 30);
        const head = ['', ...shown.map((at) => names[at])];
        const rows = shown.map((at, row) => [names[at], ...shown.map((_, column) => values[row][column])]);
        return [
          givenOf(`Correlations of ${compared.of} over ${Math.min(window, time.length)} bars`, { head, rows }, source),
        ];
      },
    },
    { says: 'the pictures', make: () => picturesIn(plots, source) },
  ];
</script>

<div class="page">
  <header class="page-head">
    <PageHead {keeper} name="Compare" several="comparisons" usualTitle={names.slice(0, 6).join(', ')}>
      {#snippet acts()}
        <HandOver title={names.slice(0, 6).join(', ') || 'A comparison'} choices={handedOver} disabled={!told} />
        <Button
          aria-pressed={following.isOn}
          title="Updates while data arrives"
          onclick={() => (following.isOn ? following.stop() : following.start())}>follow</Button
        >
        <a href="/roll" class="aside">the roll</a>
        <a href="/beside" class="aside">side by side</a>
        <Button disabled={!told} aria-expanded={showsRows} onclick={() => (showsRows = !showsRows)}>rows</Button>
        <Button disabled={!told} aria-expanded={isExporting} onclick={() => (isExporting = !isExporting)}>export</Button
        >
      {/snippet}
    </PageHead>
    {#if isExporting && told}<ExportLine
        about="comparison"
        tables={[{ name: 'rows', says: 'the rows', table: figures }]}
        {plots}
      />{/if}
    <CompareSentence {compared} {tapes} {calendar} {change} />
    <WorkProgress says="Comparing" {question} />
  </header>
  {#each [problem, ...(told?.says ?? [])] as says, at (at)}{#if says}<p
        class={at === 0 ? 'problem' : 'note'}
        role={at === 0 ? 'alert' : 'note'}
      >
        <Said text={says} />
      </p>{/if}{/each}
  {#if told && showsRows}<div class="rows"><FigureRows file={figures()} /></div>{/if}
  {#if told}
    <div class="parts" aria-busy={question.isWorking}>
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
          time={instants}
          {timeText}
          stretches={pairView.stretches}
          {change}
        />
        {#if pair && pairView.isThere}
          <PairLanes
            {compared}
            pair={pairView}
            {bonds}
            names={[names[pair.a], names[pair.b]]}
            {view}
            {marks}
            {change}
          />
        {/if}
      </div>
      <section class="beside" aria-label="Pairs">
        {#if matrix && matrix.values.length === names.length}<MatrixSection
            {compared}
            {matrix}
            count={told.count}
            {names}
            {pair}
            {change}
          />{/if}
        {#if pair && pairView.isThere}
          <PairSection
            {compared}
            pair={pairView}
            {bonds}
            names={[names[pair.a], names[pair.b]]}
            {view}
            {timeText}
            {change}
          />
        {:else if told.members.length > 0}<p class="quiet">Two members with values are needed for a pair.</p>{/if}
      </section>
    </div>
  {:else if !problem && !question.isStopped}
    <p class="state" role="status">Comparing…{question.share > 0 ? ` ${Math.round(100 * question.share)} %` : ''}</p>
  {/if}
</div>

<style>
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
