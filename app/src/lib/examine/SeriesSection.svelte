<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import { type Calendar, instantOf, rfc3339, seriesFigures, type SeriesFigures } from '@jaunty-ledger/core';
  import type { ToldExamination } from '$lib/works/examination/work';
  import type { Tape } from '$lib/api/tapes';
  import { momentText } from '$lib/chart/calendarTicks';
  import ScrubNumber from '$lib/components/ScrubNumber.svelte';
  import { datesApartText, stretchText } from '$lib/plots/stretchText';
  import type { Examined } from './examineAddress';
  import type { FiguresFile } from './examineFiles';
  import { calendarMarks } from '$lib/pictures/calendarMarks';
  import SectionHead from './SectionHead.svelte';
  import SeriesPlot from '$lib/pictures/SeriesPlot.svelte';
  import { RowsView } from '$lib/pictures/rowsView.svelte';

  interface Props {
    /** How values that are examined are written. */
    figures: SeriesFigures;
    told: ToldExamination;
    other: ToldExamination | undefined;
    /** The tape that it is told of, and its calendar. */
    tape: Tape;
    calendar: Calendar;
    view: RowsView;
    files: readonly FiguresFile[];
    change: (what: Partial<Examined>, group?: string) => void;
  }
  let { figures, told, other, tape, calendar, view, files, change }: Props = $props();

  /** What is beside it has rows of its own. */
  const otherView = new RowsView();
  $effect(() => otherView.show(other?.time.length ?? 1));

  const isTreated = $derived(told.treatments.length > 0);
  const timeText = (point: number) => momentText(instantOf(told.time[point]), calendar, tape.precision);

  const instants = $derived(Float64Array.from(told.time, instantOf));
  const marksIn = $derived(calendarMarks(instants, calendar, tape.precision));
  const marks = $derived(marksIn(view.window, view.widthPx));

  const pointed = $derived.by(() => {
    const { measure, pointer } = view;
    if (measure && measure.from !== (pointer ?? measure.to)) {
      const to = pointer ?? measure.to;
      const ends = [Math.min(to, measure.from), Math.max(to, measure.from)];
      const [from, until] = ends.map((point) => calendar.zone.wallAt(instantOf(told.time[point])));
      const rows = (ends[1] - ends[0]) * told.every;
      const apart =
        tape.precision === 'period'
          ? ''
          : `, ${until - from < 86_400e6 ? stretchText(until - from) : datesApartText(from, until)}`;
      return `${timeText(ends[0])} to ${timeText(ends[1])}: ${rows.toLocaleString('en')} rows${apart}`;
    }
    if (pointer === undefined || told.time[pointer] === undefined)
      return view.isWhole ? '' : `${timeText(view.ends[0])} to ${timeText(view.ends[1] - 1)} in view`;
    const before = isTreated ? seriesFigures(told.before).level : figures.level;
    return `${timeText(pointer)}: ${before(told.before[pointer])}${isTreated ? `, then ${figures.level(told.after[pointer])}` : ''}`;
  });

  type Turns = ToldExamination['turns']['tops'];
  const points = ({ rows }: Turns) => rows.map((row) => Math.floor(row / told.every));
  const apartText = ({ count, apart: [least, middle, greatest] }: Turns, says: string) =>
    `${count.toLocaleString('en')} ${says}${
      middle === undefined
        ? ''
        : `, median ${middle.toLocaleString('en')} bars apart (${least.toLocaleString('en')} to ${greatest.toLocaleString('en')})`
    }`;

  function examineShown(): void {
    const [first, end] = view.ends;
    change({
      from: first === 0 ? '' : rfc3339(instantOf(told.time[first])),
      to: end >= told.time.length ? '' : rfc3339(instantOf(told.time[end])),
    });
  }
</script>

<section class="wide" aria-label="The series">
  <SectionHead file={files.find(({ name }) => name === 'series')}>
    {told.phrase}, as it stands{told.every > 1 ? `; ${told.rows.toLocaleString('en')} rows by their extremes` : ''}
  </SectionHead>
  <SeriesPlot
    label="{told.phrase}, as it stands"
    values={told.before}
    {view}
    mean={isTreated ? null : told.summary.mean}
    {marks}
    showsTexts={!isTreated}
    tops={isTreated ? [] : points(told.turns.tops)}
    bottoms={isTreated ? [] : points(told.turns.bottoms)}
  />
  {#if isTreated}
    <h2>{told.treatments.join(', then ')}</h2>
    <SeriesPlot
      label={told.treatments.join(', then ')}
      values={told.after}
      {view}
      mean={told.summary.mean}
      ink="var(--blue)"
      {marks}
      showsTexts
      tops={points(told.turns.tops)}
      bottoms={points(told.turns.bottoms)}
    />
  {/if}
  <p class="pointed" role="status">
    {pointed}
    {#if !view.isWhole}<Button onclick={examineShown}>examine these alone</Button>
      <Button onclick={() => view.gestures(1).fit()}>show all</Button>{/if}
  </p>
  <SectionHead file={files.find(({ name }) => name === 'turns')}>
    <span class="turns"
      >Turning points, window
      <ScrubNumber
        value={told.turns.rows}
        label="Rows on either side of a turning point"
        most={1_000_000}
        onchange={(turns) => change({ turns }, 'turns')}
      />
      bars: {apartText(told.turns.tops, told.turns.tops.count === 1 ? 'top' : 'tops')}; {apartText(
        told.turns.bottoms,
        told.turns.bottoms.count === 1 ? 'bottom' : 'bottoms',
      )}</span
    >
  </SectionHead>
  {#if other}
    <h2>
      {other.phrase} of {other.tape}{other.treatments.length > 0 ? `, ${other.treatments.join(', then ')}` : ''}
    </h2>
    <SeriesPlot
      label="{other.phrase} of {other.tape}"
      values={other.after}
      view={other.time.length === told.time.length ? view : otherView}
      mean={other.summary.mean}
      ink="var(--ink-1)"
    />
  {/if}
</section>

<style>
  .turns {
    font-weight: 400;
    font-size: 13px;
    color: var(--quiet);
  }
</style>
