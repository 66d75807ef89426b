import { untrack } from 'svelte';

const EVERY_MS = 50;

/**
 * The latest of what may change with each frame, but at most every 50 ms: figures that change faster than that cannot be
 * read, and to lay them out takes longer than to draw the chart.
 */
export function paced<T>(read: () => T): { readonly latest: T } {
  let latest = $state.raw(untrack(read));
  let shownAt = 0;
  $effect(() => {
    const next = read();
    const show = () => {
      latest = next;
      shownAt = performance.now();
    };
    const wait = shownAt + EVERY_MS - performance.now();
    if (wait <= 0) return show();
    const timer = setTimeout(show, wait);
    return () => clearTimeout(timer);
  });
  return {
    get latest() {
      return latest;
    },
  };
}
