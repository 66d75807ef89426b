<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import Button from '$lib/components/Button.svelte';
  import type { ReadingPreview } from '@jaunty-ledger/files/reading/preview';
  import { nameOfColumn, plainName } from '@jaunty-ledger/files/reading/roles';
  import { evenPlaces } from './evenPlaces';
  import type { IntakeSession } from './intakeSession.svelte';
  import { sparkPath } from './shelfModel';

  let { session, preview }: { session: IntakeSession; preview: ReadingPreview } = $props();

  /** Tapes that are shown at once; the others on request. */
  const FEW = 6;
  let isAll = $state(false);

  const { tapes } = $derived(preview);
  const shown = $derived(isAll ? tapes : tapes.slice(0, FEW));
  const prices = $derived(shown.map(({ first, last }) => evenPlaces([first[1], last[1]])));
  const nameOf = (title: string) => (session.isNamedByColumn ? nameOfColumn(session.name, title) : plainName(title));
</script>

<div class="made">
  <p>It makes {tapes.length} tapes, one of each {session.isNamedByColumn ? 'column' : 'instrument'}:</p>
  <Table look="listing" aria-label="Tapes of this file">
    <thead>
      <tr>
        <th scope="col">tape</th><th scope="col" class="figure">rows read</th><th scope="col" colspan="2">from</th><th
          scope="col"
          colspan="2">to</th
        ><th></th>
      </tr>
    </thead>
    <tbody>
      {#each shown as { name, rows, first, last, spark }, at (name)}
        <tr>
          <th scope="row">{nameOf(name)}</th><td class="figure">{rows}</td><td>{first[0]}</td><td class="figure"
            >{prices[at][0]}</td
          ><td>{last[0]}</td><td class="figure">{prices[at][1]}</td><td
            ><svg viewBox="0 0 90 16" width="90" height="16" role="img" aria-label="Values of {nameOf(name)}"
              ><path d={sparkPath(spark, 90, 16)} /></svg
            ></td
          >
        </tr>
      {/each}
    </tbody>
  </Table>
  {#if tapes.length > FEW}
    <Button aria-expanded={isAll} onclick={() => (isAll = !isAll)}
      >{isAll ? 'show fewer' : `show all ${tapes.length}`}</Button
    >
  {/if}
</div>

<style>
  .made {
    grid-column: 1 / -1;
    max-height: 320px;
    overflow: auto;
  }
  p {
    margin: 0 0 2px;
  }
  path {
    fill: none;
    stroke: var(--blue);
    stroke-width: 1.2;
  }
</style>
