import { tick } from 'svelte';

/** Takers of pictures that are at work. While there are any, all that is drawn is part of the document, where they find it. */
let takers = $state(0);

export const isTaken = (): boolean => takers > 0;

/** Runs while nothing is painted on canvases. */
export async function asDocument<T>(take: () => Promise<T>): Promise<T> {
  takers++;
  try {
    await tick();
    return await take();
  } finally {
    takers--;
  }
}
