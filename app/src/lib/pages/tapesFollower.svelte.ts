import { Versions } from '$lib/api/live';

/** A page that is worked out by the server is asked for anew so often at most. */
const ROUND_EVERY_MS = 1000;

/** Says when a page about some tapes is to be asked for anew, since one of them has been fed or changed. */
export class TapesFollower {
  isOn = $state(false);
  /** Rises with each change. */
  round = $state(0);
  private source: EventSource | undefined;
  private told = '';
  private lastAt = -Infinity;
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly tapes: () => readonly string[]) {}

  start(): void {
    this.isOn = true;
    this.told = '';
    const query = new URLSearchParams({ tapes: [...new Set(this.tapes())].join(',') });
    this.source = new EventSource(`/api/versions?${query}`);
    this.source.addEventListener('versions', ({ data }) => {
      Versions.parse(JSON.parse(data as string));
      if (data === this.told) return;
      this.told = data as string;
      const wait = Math.max(0, this.lastAt + ROUND_EVERY_MS - performance.now());
      this.timer ??= setTimeout(() => {
        this.timer = undefined;
        this.lastAt = performance.now();
        this.round++;
      }, wait);
    });
  }

  /** Follows other tapes, where any are followed. */
  again(): void {
    if (!this.isOn) return;
    this.stop();
    this.start();
  }

  stop(): void {
    this.isOn = false;
    this.source?.close();
    clearTimeout(this.timer);
    this.timer = undefined;
  }
}
