<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Input from '$lib/components/Input.svelte';
  import Select from '$lib/components/Select.svelte';
  import { figureText, seriesFigures, type ToldStretch } from '@jaunty-ledger/core';
  import { tick, untrack } from 'svelte';
  import { memberText, type ToldComparison } from '$lib/works/comparison/work';
  import type { Tape } from '$lib/api/tapes';
  import { asRange, extentOf } from '$lib/chart/extent';
  import { DASHES, INK_COUNT } from '$lib/chart/inks';
  import type { Surface } from '$lib/chart/layers';
  import { drawLine } from '$lib/chart/lineLayer';
  import { rowsInView } from '$lib/chart/viewWindow';
  import Said from '$lib/components/Said.svelte';
  import ScrubNumber from '$lib/components/ScrubNumber.svelte';
  import type { CalendarMark } from '$lib/pictures/calendarMarks';
  import RowsPlot from '$lib/pictures/RowsPlot.svelte';
  import type { RowsView } from '$lib/pictures/rowsView.svelte';
  import { sharedExtent } from '$lib/beside/sharedScale.svelte';
  import Notes from '$lib/plots/Notes.svelte';
  import LineEnds from './LineEnds.svelte';
  import LaneRow from './LaneRow.svelte';
  import { readMember, type Compared } from './compareAddress';
  import StretchShades from './StretchShades.svelte';
  import { standingOf } from './standing';

  interface Props {
    compared: Compared;
    told: ToldComparison;
    tapes: readonly Tape[];
    names: readonly string[];
    /** As they are drawn, by member; empty of one that cannot be compared. */
    lines: readonly Float64Array[];
    /** Of all members; empty where none is wanted. */
    average: Float64Array;
    view: RowsView;
    marks: readonly CalendarMark[];
    /** Instants of the rows. */
    time: Float64Array;
    timeText: (row: number) => string;
    stretches: readonly ToldStretch[];
    change: (what: Partial<Compared>, group?: string) => void;
  }
  let { compared, told, tapes, names, lines, average, view, marks, time, timeText, stretches, change }: Props =
    $props();

  const LEAST_PX = 312;
  /** More lines than these are pale, but for the one that stands out. */
  const MANY = 24;
  let marginPx = $state(0);
  /** As high as its margin. */
  const heightPx = $derived(Math.max(LEAST_PX, marginPx - 28));
  const FOOT_PX = 18;
  /** Values of a line that say how many decimals it has. */
  const MOST_LOOKED_AT = 500;
  /** Lines are named at their ends where there are so many at most; the margin names all. */
  const MOST_NAMED = 14;
  const ink = (at: number) => `var(--ink-${at % INK_COUNT})`;
  // by themselves, so that lines are not drawn again where other choices change
  const scale = $derived(compared.scale);
  const base = $derived(compared.base);
  const strong = $derived(compared.strong);
  const inView = $derived(rowsInView(view.window, told.count));

  /** The row that lines are 100 at: the first in view on which a line has a value, or the one that was picked. */
  const baseRow = $derived.by(() => {
    if (!base) return inView[0];
    const at = told.time?.findIndex((time) => time >= base) ?? -1;
    return at < 0 ? inView[0] : at;
  });
  function factorOf(line: Float64Array): number {
    if (scale === 'raw') return 1;
    let row = baseRow;
    if (!base) while (row < line.length && Number.isNaN(line[row])) row++;
    return line[row] > 0 || line[row] < 0 ? 100 / line[row] : NaN;
  }
  const less = $derived(scale === 'percent' ? 100 : 0);
  const factors = $derived(lines.map(factorOf));
  const ofAverage = $derived(average.length > 0 ? factorOf(average) : NaN);
  const shown = (line: Float64Array, factor: number, row: number) => line[row] * factor - less;

  const extent = $derived.by((): [number, number] | undefined => {
    const ends = [...lines, average].flatMap((line, at) => {
      const factor = at < lines.length ? factors[at] : ofAverage;
      const own = line.length > 0 && !Number.isNaN(factor) ? extentOf(asRange(line), ...inView) : undefined;
      return own ? own.map((value) => value * factor - less) : [];
    });
    return ends.length > 0 ? [Math.min(...ends), Math.max(...ends)] : undefined;
  });

  const shared = sharedExtent(() => extent);

  function draw(surface: Surface): void {
    const on = (factor: number): Surface => ({ ...surface, y: (value) => surface.y(value * factor - less) });
    lines.forEach((line, at) => {
      if (line.length === 0 || Number.isNaN(factors[at])) return;
      const isStrong = strong === at;
      const isPale = !isStrong && (strong >= 0 || lines.length > MANY);
      const style = {
        colour: ink(at),
        dash: DASHES[at % INK_COUNT],
        widthPx: isStrong ? 2.4 : 1.3,
        strength: isPale ? 0.5 : 1,
      };
      drawLine(on(factors[at]), line, style);
    });
    if (average.length > 0) drawLine(on(ofAverage), average, { colour: 'var(--ink)', widthPx: 2.2 });
  }

  /** The row whose figures are told. */
  const row = $derived(view.pointer ?? inView[1] - 1);
  const figuresOf = (line: Float64Array) => seriesFigures(Array.from(line.slice(-MOST_LOOKED_AT)));
  /** How levels of each line are written as they stand, the average behind the others. */
  const ofLines = $derived(scale === 'raw' ? [...lines, average].map(figuresOf) : []);
  const figure = (value: number, at: number) => ofLines[at]?.level(value) ?? figureText(value, 'price', 2);
  const standings = $derived(
    average.length === 0 || names.length > 60
      ? []
      : lines.map((values, at) =>
          standingOf({ values, factor: factors[at] }, { values: average, factor: ofAverage }, ...inView),
        ),
  );

  const ends = $derived.by(() => {
    if (names.length > MOST_NAMED || !extent) return [];
    const last = inView[1] - 1;
    const all = [
      ...lines.map((line, at) => ({
        ...{ name: names[at], ink: ink(at), line: at, isAverage: false },
        value: shown(line, factors[at], last),
      })),
      ...(average.length > 0
        ? [
            {
              ...{ name: 'average', ink: 'var(--ink)', line: lines.length, isAverage: true },
              value: shown(average, ofAverage, last),
            },
          ]
        : []),
    ];
    return all.filter(({ value }) => !Number.isNaN(value));
  });
  /** Rows that a member does not share with the others, or had carried on. */
  function missingText(own: number, carried: number): string {
    if (carried > 0) return `${carried.toLocaleString('en')} carried on`;
    const apart = own - told.count;
    if (apart > 0) return `${apart.toLocaleString('en')} rows of its own`;
    return apart < 0 ? `${(-apart).toLocaleString('en')} rows missing` : '';
  }

  /** Notes are known by their places, as in an address, which does not tell more of them. */
  const numbered = (notes: Compared['notes']) => notes.map((note, place) => ({ ...note, id: `note-${place}` }));
  /** Writes a note anew; one without words is taken away. */
  function writeNote(id: string, text: string): void {
    const words = text.trim();
    const notes = compared.notes.flatMap((note) => (note.id !== id ? [note] : words ? [{ ...note, text: words }] : []));
    change({ notes: numbered(notes) });
  }
  /** Pins a note to the row at the pointer, and waits for its words. */
  async function pin(): Promise<void> {
    const at = told.time?.[row];
    if (!at || compared.notes.some((note) => note.at === at)) return;
    change({ notes: numbered([...compared.notes, { id: '', at, text: '' }]) });
    await tick();
    document.querySelector<HTMLInputElement>(`input[aria-label="Note at ${CSS.escape(at)}"]`)?.focus();
  }

  function keyed(event: KeyboardEvent): void {
    const isWriting = event.target instanceof Element && event.target.matches('input, select, textarea');
    if (event.key === 'n' && !event.ctrlKey && !event.metaKey && !event.altKey && !isWriting) {
      event.preventDefault();
      void pin();
    }
  }

  let written = $state('');
  function add(): void {
    const member = readMember(written);
    if (!member || !written.trim()) return;
    written = '';
    untrack(() => change({ members: [...compared.members, member] }));
  }
  function leaveOut(at: number): void {
    // what is told may be of members that have changed since
    if (compared.members.length === 1 || memberText(compared.members[at] ?? NOBODY) !== names[at]) return;
    const placed = (place: number) => (place === at ? 0 : place > at ? place - 1 : place);
    const [a, b] = [placed(compared.a), placed(compared.b)];
    change({
      members: compared.members.filter((_, other) => other !== at),
      ...{ a, b: a === b ? (a === 0 ? 1 : 0) : b },
      strong: strong === at ? -1 : strong > at ? strong - 1 : strong,
    });
  }
  const NOBODY = { tape: '', entry: '' };
</script>

<svelte:window onkeydown={keyed} />
<LaneRow label="Lines">
  {#snippet margin()}
    <div bind:clientHeight={marginPx}>
      <ul>
        {#each told.members as { refused, tape, own, carried }, at (at)}
          <li class:strong={strong === at}>
            <svg width="20" height="8" aria-hidden="true"
              ><line x2="20" y1="4" y2="4" stroke={ink(at)} stroke-dasharray={DASHES[at % INK_COUNT].join(' ')} /></svg
            >
            <Button
              look="bare"
              class="name"
              aria-pressed={strong === at}
              title="Highlight its line"
              onclick={() => change({ strong: strong === at ? -1 : at })}>{names[at]}</Button
            >
            <span class="figure">{refused ? '' : figure(shown(lines[at], factors[at], row), at)}</span>
            <span class="acts"
              ><a href="/ledger?tape={tape}" class="aside">ledger</a>
              <Button aria-label="Leave {names[at]} out" onclick={() => leaveOut(at)}>×</Button></span
            >
            {#if refused}<p class="refused">
                <Said text={refused} />
              </p>{:else if standings[at] || missingText(own, carried)}<p>
                {[standings[at], missingText(own, carried)].filter(Boolean).join('; ')}
              </p>{/if}
          </li>
        {/each}
        {#if average.length > 0}
          <li class="strong">
            <svg width="20" height="8" aria-hidden="true"><line class="own" x2="20" y1="4" y2="4" /></svg>
            <span class="name">average of all {lines.filter((line) => line.length > 0).length}</span>
            <span class="figure">{figure(shown(average, ofAverage, row), lines.length)}</span>
          </li>
        {/if}
      </ul>
      <form
        onsubmit={(event) => {
          event.preventDefault();
          add();
        }}
      >
        <Input
          class="w-full! py-0.5 text-[13.5px]"
          aria-label="Write a member"
          placeholder="write a member…"
          list="member-names"
          bind:value={written}
        />
        <datalist id="member-names"
          >{#each tapes as { name } (name)}{#if !compared.members.some(({ tape }) => tape === name)}<option value={name}
              ></option>{/if}{/each}</datalist
        >
      </form>
      <p class="quiet">
        all lines: mean over <ScrubNumber
          value={compared.smooth}
          label="Rows of the mean of all lines"
          most={100_000}
          onchange={(smooth) => change({ smooth }, 'smooth')}
        />
        {compared.smooth === 1 ? 'bar' : 'bars'}
      </p>
      <p class="quiet">
        average
        <Select
          look="word"
          aria-label="Average of the group"
          value={compared.average}
          onchange={(event) => change({ average: event.currentTarget.value as Compared['average'] })}
        >
          <option value="equal">of returns</option>
          <option value="held">of levels</option>
          <option value="none">left out</option>
        </Select>
      </p>
    </div>
  {/snippet}
  {#if lines.every((line) => line.length === 0)}<p class="none">
      None of these can be compared so. Choose other bars, or other members.
    </p>{/if}
  <RowsPlot label="Lines of {names.slice(0, 8).join(', ')}" {view} {heightPx} footPx={FOOT_PX} extent={shared()} {draw}>
    {#snippet under(x, _y, widthPx, drawnPx)}
      <StretchShades {stretches} rows={told.count} {x} {widthPx} heightPx={drawnPx - FOOT_PX} />
      {#each marks as { at, text } (at)}
        <line class="mark" x1={x(at)} x2={x(at)} y1="0" y2={drawnPx} />
        <text x={x(at) + 4} y={drawnPx - 4} class="time">{text}</text>
      {/each}
    {/snippet}
    {#snippet written(widthPx)}
      <Notes {time} view={view.window} notes={compared.notes} write={writeNote} {widthPx} />
    {/snippet}
    {#snippet over(_x, y, widthPx, drawnPx)}
      <LineEnds
        ends={ends.map(({ value, line, ...end }) => ({ ...end, y: y(value), figure: figure(value, line) }))}
        {view}
        {widthPx}
        bottomPx={drawnPx - FOOT_PX - 4}
      />
    {/snippet}
  </RowsPlot>
  <Button class="pin" title="Pin a note to the bar at the pointer (n)" onclick={pin}>note</Button>
  <p class="pointed" role="status">{view.pointer === undefined ? '' : timeText(view.pointer)}</p>
</LaneRow>

<style>
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
    max-height: 420px;
    overflow-y: auto;
  }
  li {
    display: grid;
    grid-template-columns: 22px minmax(0, 1fr) auto;
    gap: 0 8px;
    align-items: baseline;
    padding: 1px 0;
    position: relative;
  }
  li svg line {
    stroke-width: 1.8;
  }
  li .own {
    stroke: var(--ink);
    stroke-width: 3;
  }
  .name {
    font: inherit;
    font-weight: 600;
    text-align: left;
    color: var(--ink);
    background: none;
    border: 0;
    padding: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .strong .name {
    text-decoration: underline;
  }
  .figure {
    font-size: 14px;
  }
  li p {
    grid-column: 2 / -1;
    margin: -2px 0 2px;
    font-size: 12.5px;
    color: var(--quiet);
  }
  li .refused {
    color: var(--wrong);
  }
  .acts {
    position: absolute;
    right: 0;
    top: 2px;
    display: flex;
    opacity: 0;
    gap: 8px;
    padding-left: 8px;
    background: var(--paper);
  }
  li:hover .acts,
  li:focus-within .acts {
    opacity: 1;
  }
  .none {
    padding: 12px;
    color: var(--quiet);
  }
  .mark {
    stroke: var(--rule);
  }
  .time {
    font-size: 12px;
    font-style: italic;
    fill: var(--quiet);
  }
  .pointed {
    margin: 0;
    min-height: 1.3em;
    font-size: 13px;
    color: var(--quiet);
  }
</style>
