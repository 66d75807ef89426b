import { answering, tapeOf } from '$lib/server/answer';
import { compute } from '$lib/server/jobs/computePool';

/** Figures of each column of the records, and how busy each hour of the day is. */
export const GET = answering(async (event) => {
  const tape = await tapeOf(event);
  const body = await compute({ kind: 'summary', tape, range: { from: -Infinity, to: Infinity }, format: 'json' });
  return new Response(body as Uint8Array<ArrayBuffer>, { headers: { 'content-type': 'application/json' } });
});
