import { json } from '@sveltejs/kit';
import { ReadingBody } from '$lib/api/readings';
import { answering, jsonBody } from '$lib/server/answer';
import { previewReading } from '$lib/server/files/previewReading';
import { readBy } from '$lib/server/problem';

const listed = (text: string | undefined) =>
  text
    ?.split(',')
    .map((part) => part.trim())
    .filter(Boolean);

/** How a file would be read, from its beginning and end. Nothing is entered. */
export const POST = answering(async ({ request, locals }) => {
  const { head, tail, choices, zone, session, weekdays, closed } = readBy(
    ReadingBody,
    await jsonBody(request, 16 << 20),
    'invalid-body',
  );
  const bytes = (text: string) => new Uint8Array(Buffer.from(text, 'base64'));
  return json(
    await previewReading(locals.db, bytes(head), bytes(tail), choices, {
      zone,
      session,
      weekdays: listed(weekdays),
      closed: listed(closed),
    }),
  );
});
