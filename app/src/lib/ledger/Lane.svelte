<script lang="ts">
  import { type LedgerLane } from '$lib/api/ledgers';
  import type { CalendarTick } from '$lib/chart/calendarTicks';
  import type { PlotGestures } from '$lib/chart/plotGestures';
  import { rowsInView } from '$lib/chart/viewWindow';
  import { entryModels } from '$lib/plots/laneModel';
  import LanePlot from '$lib/plots/LanePlot.svelte';
  import { laneScale, lanesOfOneScale } from '$lib/plots/laneScale';
  import LaneMargin from './LaneMargin.svelte';
  import LaneResizer from './LaneResizer.svelte';
  import type { LedgerSession } from './ledgerSession.svelte';
  import ShortEntries from './ShortEntries.svelte';

  let {
    session,
    lane,
    calendarTicks,
    isTop,
    gestures,
    onresize,
  }: {
    session: LedgerSession;
    lane: LedgerLane;
    calendarTicks: readonly CalendarTick[];
    isTop: boolean;
    gestures: PlotGestures;
    onresize: (widthPx: number) => void;
  } = $props();

  const { document, view, results } = $derived(session);
  const entries = $derived(entryModels(lane, results.shown));
  const inView = $derived(rowsInView(view.window, view.viewRows));
  const shared = $derived(
    lanesOfOneScale(document.body.lanes, lane).map((one) => ({ lane: one, entries: entryModels(one, results.shown) })),
  );
  const scale = $derived(laneScale(lane, view.bars!, entries, ...inView, shared));
  const name = $derived(
    { price: 'Price lane', volume: 'Volume lane', none: `Lane ${document.body.lanes.indexOf(lane) + 1}` }[lane.base],
  );
</script>

<section
  class="lane"
  class:prices={lane.base === 'price'}
  class:collapsed={lane.collapsed}
  style:--weight={lane.weight}
  aria-label={name}
>
  <LaneMargin {session} {lane} {entries} {scale} {name} />
  {#if lane.collapsed}
    <div class="folded"></div>
  {:else}
    <LanePlot
      {view}
      {lane}
      {entries}
      {scale}
      {calendarTicks}
      {isTop}
      {gestures}
      notes={document.body.notes}
      writeNote={(id, text) => document.writeNote(id, text)}
      {onresize}
    >
      {#snippet short(models, left)}
        <ShortEntries {document} short={models} {left} leaveOut={() => session.setTrimmed(true)} />
      {/snippet}
    </LanePlot>
  {/if}
  <LaneResizer {document} {lane} />
</section>

<style>
  .lane {
    position: relative;
    display: grid;
    grid-template-columns: var(--margin-width) minmax(0, 1fr);
    flex: var(--weight) 1 0;
    min-height: 92px;
    grid-template-rows: minmax(0, 1fr);
    border-bottom: 1px solid var(--rule);
  }
  /* prices are looked at whatever else is below them: then the lanes scroll */
  .lane.prices {
    min-height: 200px;
  }
  .lane.collapsed {
    flex: none;
    min-height: 0;
  }
  .folded {
    border-left: 4px double var(--margin-rule);
  }
  @media (max-width: 700px) {
    .lane {
      grid-template-columns: minmax(0, 1fr);
      grid-template-rows: auto 170px;
      flex: none;
    }
    .lane.collapsed {
      grid-template-rows: auto 0;
    }
    .folded {
      border-left: 0;
      border-top: 4px double var(--margin-rule);
    }
  }
</style>
