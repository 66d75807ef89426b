import type { Problem } from '$lib/api/problems';
import type { FeedFormat } from './feedReader';
import type { FollowChoice } from './followedTape';

/** The number of a feed, of a follower, or of whoever has a tape held. */
export type LiveId = number;

export type ToLive =
  | { kind: 'feed'; id: LiveId; tapeId: number; sender: string; format: FeedFormat | undefined }
  | { kind: 'bytes'; id: LiveId; bytes: Uint8Array<ArrayBuffer> }
  | { kind: 'end'; id: LiveId }
  /** The sender has gone: what it has sent is still entered, but for a line that broke off. */
  | { kind: 'broken'; id: LiveId }
  | { kind: 'follow'; id: LiveId; tapeId: number; choice: FollowChoice; version: number | undefined }
  | { kind: 'leave'; id: LiveId }
  /** Somebody else is about to change a tape, and has changed it. */
  | { kind: 'hold'; id: LiveId; tapeId: number }
  | { kind: 'let go'; id: LiveId; tapeId: number }
  | { kind: 'changed'; tapeId: number }
  | { kind: 'close' };

export type FromLive =
  /** A line of the answer to a feed, or rows for a follower: JSON. */
  | { kind: 'told'; id: LiveId; text: string; version?: number }
  /** A block of a feed is safe: a further one may come. */
  | { kind: 'taken'; id: LiveId }
  | { kind: 'over'; id: LiveId }
  | { kind: 'failed'; id: LiveId; problem: Problem }
  | { kind: 'held'; id: LiveId }
  /** Something was written to the store. */
  | { kind: 'written' };
