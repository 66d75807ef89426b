import { randomId } from '$lib/api/randomId';

/** Where one looks on a page that stands beside another, as instants. */
interface SideView {
  from: number;
  to: number;
  pointer: number | undefined;
}

/** Frames of one page have names that begin alike: what is told goes to those alone. */
const NAMED = /^(beside-\w+)-(?:left|right)$/;

/** Names for the two frames of a page. */
export function frameNames(): { left: string; right: string } {
  const name = `beside-${randomId(12)}`;
  return { left: `${name}-left`, right: `${name}-right` };
}

/** What two frames have in common in their names; nothing of a page that stands in none. */
export const pairOf = (name = typeof window === 'undefined' ? '' : window.name): string | undefined =>
  NAMED.exec(name)?.[1];

/** Whether this page stands in a frame beside another one. */
export const isBeside = (): boolean => pairOf() !== undefined;

/**
 * Tells the page beside where one looks, and hears where one looks there. Only the page that a hand is on tells, so that
 * rows that are rounded otherwise on the other one do not come back.
 */
export class SideLink {
  private readonly channel: BroadcastChannel | undefined;
  private isHandHere = false;
  private readonly touched = () => (this.isHandHere = true);

  /** @param take  shows what is looked at on the page beside */
  constructor(take: (view: SideView) => void) {
    const name = pairOf();
    if (!name) return;
    this.channel = new BroadcastChannel(name);
    this.channel.onmessage = ({ data }: MessageEvent<SideView>) => {
      this.isHandHere = false;
      take(data);
    };
    for (const kind of ['pointermove', 'pointerdown', 'wheel', 'keydown'])
      window.addEventListener(kind, this.touched, { capture: true, passive: true });
  }

  tell(view: SideView): void {
    if (this.isHandHere) this.channel?.postMessage(view);
  }

  close(): void {
    if (!this.channel) return; // nothing was begun, as on the server
    this.channel.close();
    for (const kind of ['pointermove', 'pointerdown', 'wheel', 'keydown'])
      window.removeEventListener(kind, this.touched, { capture: true });
  }
}
