import { firstRowFrom } from '@jaunty-ledger/core';
import { onDestroy } from 'svelte';
import { rowsInView } from '$lib/chart/viewWindow';
import type { BarView } from '$lib/plots/barView.svelte';
import { SideLink } from './sideLink';

/** Links the bars of a ledger to the page beside, where there is one. */
export function linkBars(view: BarView): void {
  const link = new SideLink(({ from, to, pointer }) => {
    if (!view.bars) return;
    view.lookAt({ from, to: to + 1 });
    const row = pointer === undefined ? -1 : firstRowFrom(view.times, pointer);
    view.pointer = row >= 0 && row < view.times.length ? row : undefined;
  });
  $effect(() => {
    if (!view.bars || view.rows === 0) return;
    const [from, to] = rowsInView(view.window, view.viewRows);
    const { times, pointer } = view;
    link.tell({ from: times[from], to: times[to - 1], pointer: pointer === undefined ? undefined : times[pointer] });
  });
  onDestroy(() => link.close());
}
