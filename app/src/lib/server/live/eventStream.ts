import { refuse } from '$lib/api/problems';
import { settings } from '../settings';

/** Bytes that a follower is behind before it is let go; it comes back by the last it has had. */
const MOST_BEHIND = 1 << 20;
/** A follower hears something so often, so that what lies between does not take it for gone. */
const SIGN_EVERY_MS = 15_000;

let followers = 0;

/** Those who follow something. */
export const followersOpen = (): number => followers;

/** An answer of server-sent events, for as long as both sides stay. */
interface EventStream {
  say: (text: string) => void;
  /** Ends it. */
  leave: () => void;
}

/**
 * @param begin  called with the stream, once
 * @param left   called when it has ended, whoever ended it
 * @throws {Refusal} where too many follow already
 */
export function eventStream(begin: (stream: EventStream) => void, left: () => void): Response {
  if (followers >= settings.limits.followers)
    throw refuse('too-busy', `${settings.limits.followers} pages follow a tape. Close one of them first.`);
  followers++;
  const encoder = new TextEncoder();
  let leave = () => {};
  const stream = new ReadableStream<Uint8Array>(
    {
      start(answer) {
        let isOver = false;
        const say = (text: string) => {
          if (isOver) return;
          answer.enqueue(encoder.encode(text));
          if ((answer.desiredSize ?? 0) < -MOST_BEHIND) leave();
        };
        const timer = setInterval(() => say(': still here\n\n'), SIGN_EVERY_MS);
        leave = () => {
          if (isOver) return;
          isOver = true;
          followers--;
          clearInterval(timer);
          left();
          try {
            answer.close();
          } catch {
            // it was closed by whoever left
          }
        };
        say('retry: 1000\n\n');
        begin({ say, leave: () => leave() });
      },
      cancel: () => leave(),
    },
    new ByteLengthQueuingStrategy({ highWaterMark: 0 }),
  );
  return new Response(stream, { headers: { 'content-type': 'text/event-stream', 'x-accel-buffering': 'no' } });
}
