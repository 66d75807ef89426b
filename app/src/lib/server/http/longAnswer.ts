import type { RequestEvent } from '@sveltejs/kit';
import { LINES } from '$lib/api/ask';
import { SharedCourse } from '../tasks/course';
import type { TaskClient } from '../tasks/lane';
import { jsonAnswer } from './answer';
import { problemOf } from './problem';

/** An answer that takes no longer is given as it is. */
const SOON_MS = 400;
/** How often it is told how far the work is. */
const TOLD_MS = 250;

/**
 * The answer of a task that may take long. A client that accepts lines of JSON is told how far it is, `{"share": 0.4}`, until
 * the answer comes as the last line, `{"answer": ...}`, or what went wrong, `{"problem": ...}`.
 * @param run  does the task; where its client goes it is given up
 */
export async function longAnswer(
  { request }: RequestEvent,
  who: TaskClient,
  run: (who: TaskClient) => Promise<Uint8Array>,
): Promise<Response> {
  if (!request.headers.get('accept')?.includes(LINES)) return jsonAnswer(await run(who));
  const course = new SharedCourse();
  const left = new AbortController();
  const signal = who.signal ? AbortSignal.any([who.signal, left.signal]) : left.signal;
  const work = run({ ...who, signal, course });
  const soon = await Promise.race([work, new Promise<undefined>((done) => setTimeout(done, SOON_MS))]);
  if (soon) return jsonAnswer(soon);
  const encoder = new TextEncoder();
  let timer: ReturnType<typeof setInterval> | undefined;
  const stream = new ReadableStream<Uint8Array>({
    start(lines) {
      const line = (text: string) => lines.enqueue(encoder.encode(`${text}\n`));
      timer = setInterval(() => line(JSON.stringify({ share: course.share })), TOLD_MS);
      work
        .then((body) => {
          line(`{"answer":${new TextDecoder().decode(body)}}`);
        })
        .catch((error: unknown) => {
          if (!left.signal.aborted) line(JSON.stringify({ problem: problemOf(error) }));
        })
        .finally(() => {
          clearInterval(timer);
          if (!left.signal.aborted) lines.close();
        });
    },
    cancel() {
      clearInterval(timer);
      left.abort();
    },
  });
  return new Response(stream, { headers: { 'content-type': LINES } });
}
