import { onDestroy } from 'svelte';
import { pairOf, type frameNames } from './sideLink';

type Extent = [number, number];
/** What is said between two frames and the page that they stand on. */
type Said =
  { kind: 'asks' } | { kind: 'scale'; isOne: boolean } | { kind: 'extent'; from: string; extent: Extent | undefined };

/**
 * The values that the main plot of a page shows: its own, or those of both pages where they stand side by side on one scale.
 * @param own  least and greatest value in view on this page
 */
export function sharedExtent(own: () => Extent | undefined): () => Extent | undefined {
  const name = pairOf();
  if (!name) return own;
  const channel = new BroadcastChannel(`${name}-scale`);
  const here = window.name;
  let isOne = $state(false);
  let other = $state.raw<Extent>();
  const say = (said: Said) => channel.postMessage(said);
  const tell = () => say({ kind: 'extent', from: here, extent: own() });
  channel.onmessage = ({ data }: MessageEvent<Said>) => {
    if (data.kind === 'extent') other = data.extent;
    if (data.kind === 'scale') isOne = data.isOne;
    if (data.kind === 'asks') tell();
  };
  $effect(tell);
  say({ kind: 'asks' });
  onDestroy(() => channel.close());
  return () => {
    const [mine, theirs] = [own(), other];
    if (!isOne || !theirs || !mine) return mine;
    return [Math.min(mine[0], theirs[0]), Math.max(mine[1], theirs[1])];
  };
}

/** On the page that the frames stand on: tells them whether they share their scale, whenever one asks. */
export function scaleTeller(names: ReturnType<typeof frameNames>, isOne: () => boolean): void {
  const channel = new BroadcastChannel(`${pairOf(names.left)}-scale`);
  const tell = () => channel.postMessage({ kind: 'scale', isOne: isOne() } satisfies Said);
  channel.onmessage = ({ data }: MessageEvent<Said>) => {
    if (data.kind === 'asks') tell();
  };
  $effect(tell);
  onDestroy(() => channel.close());
}
