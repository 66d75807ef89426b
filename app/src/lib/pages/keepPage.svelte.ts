import { onDestroy, untrack } from 'svelte';
import { goto } from '$app/navigation';
import { PageKeeper, type Kept, type PageKind } from './pageKeeper.svelte';

/**
 * The keeper of a page that is open: told what its address asks for, and saves what waits when the page is left.
 * @param addressAfterMs  how long a number has stood still that is turned before it comes to the address: for a page that shows
 *                        what its keeper has now, so that no step of it waits for the address
 * @param isInAddress     whether all that a page shows is in its address, and its steps outlast a reload
 */
export function keepPage<Body extends object>(
  kind: PageKind<Body>,
  asked: () => Body,
  kept: () => Kept<object> | undefined,
  { addressAfterMs = 0, isInAddress = true }: { addressAfterMs?: number; isInAddress?: boolean } = {},
): PageKeeper<Body> {
  let waiting: ReturnType<typeof setTimeout> | undefined;
  const go = (address: string, replaces: boolean) => {
    clearTimeout(waiting);
    if (!isInAddress) return;
    const gone = () => void goto(address, { keepFocus: true, noScroll: true, replaceState: replaces });
    if (replaces && addressAfterMs > 0) waiting = setTimeout(gone, addressAfterMs);
    else gone();
  };
  const storage = typeof localStorage === 'undefined' || !isInAddress ? undefined : localStorage;
  const keeper = untrack(() => new PageKeeper(kind, asked(), kept(), go, storage));
  $effect(() => {
    const [shown, page] = [asked(), kept()];
    // by what the address says alone, not by what the keeper has
    untrack(() => keeper.opened(shown, page));
  });
  onDestroy(() => {
    clearTimeout(waiting);
    keeper.flush();
  });
  return keeper;
}
