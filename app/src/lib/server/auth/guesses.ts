import { LRUCache } from 'lru-cache';

/** The first wrong token of an address keeps it waiting so long, each further one twice as long, up to a bound. */
const FIRST_WAIT_MS = 500;
const LONGEST_WAIT_MS = 60_000;
/** Addresses that are remembered, and tokens that were right. */
const MOST_REMEMBERED = 10_000;

/** Slows down whoever guesses tokens. Tokens that were right lately are not kept waiting, wherever they come from. */
export class Guesses {
  private readonly wrong = new LRUCache<string, { count: number; until: number }>({
    max: MOST_REMEMBERED,
    ttl: 15 * 60_000,
  });
  private readonly right = new LRUCache<string, true>({ max: MOST_REMEMBERED, ttl: 60 * 60_000 });

  /** Milliseconds that an address has to wait before a token of it is looked at. */
  waitFor(address: string, tokenHash: string, now = Date.now()): number {
    if (this.right.has(tokenHash)) return 0;
    return Math.max(0, (this.wrong.get(address)?.until ?? 0) - now);
  }

  noteWrong(address: string, now = Date.now()): number {
    const count = (this.wrong.get(address)?.count ?? 0) + 1;
    this.wrong.set(address, { count, until: now + Math.min(LONGEST_WAIT_MS, FIRST_WAIT_MS * 2 ** (count - 1)) });
    return count;
  }

  noteRight(address: string, tokenHash: string): void {
    this.wrong.delete(address);
    this.right.set(tokenHash, true);
  }
}
