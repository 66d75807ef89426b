import { firstRowFrom } from '@jaunty-ledger/core';
import { onDestroy } from 'svelte';
import { rowsInView } from '$lib/chart/viewWindow';
import type { RowsView } from '$lib/pictures/rowsView.svelte';
import { SideLink } from './sideLink';

/** Links pictures over rows to the page beside, where there is one. @param time  instants of the rows, rising */
export function linkRows(view: RowsView, time: () => Float64Array): void {
  const link = new SideLink(({ from, to, pointer }) => {
    const times = time();
    const [first, end] = [firstRowFrom(times, from), firstRowFrom(times, to + 1)];
    if (end - first > 1) view.window = { ...view.window, first, count: end - first };
    const row = pointer === undefined ? -1 : firstRowFrom(times, pointer);
    view.pointer = row >= 0 && row < times.length ? row : undefined;
  });
  $effect(() => {
    const times = time();
    const [from, end] = rowsInView(view.window, times.length);
    if (end <= from) return;
    const pointer = view.pointer === undefined ? undefined : times[view.pointer];
    link.tell({ from: times[from], to: times[end - 1], pointer });
  });
  onDestroy(() => link.close());
}
