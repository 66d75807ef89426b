import { untrack } from 'svelte';

/**
 * The latest of what may change with each frame, but at most every 50 ms: figures that change faster than that cannot be
 * read, and to lay them out takes longer than to draw the chart.
 */
export function paced<T>(read: () => T, everyMs = 50): { readonly latest: T } {
  let latest = $state.raw(untrack(read));
  let shownAt = 0;
  $effect(() => {
    const next = read();
    const show = () => {
      latest = next;
      shownAt = performance.now();
    };
    const wait = shownAt + everyMs - performance.now();
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
