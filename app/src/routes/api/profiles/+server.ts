import { ProfileBody } from '$lib/api/readings';
import { answering, jsonBody } from '$lib/server/answer';
import { readBy } from '$lib/server/problem';
import { keepProfile } from '$lib/server/store/profiles';

/** Keeps a reading under a name; it is proposed again for files of the same shape. */
export const POST = answering(async ({ request, locals }) => {
  await keepProfile(locals.db, readBy(ProfileBody, await jsonBody(request), 'invalid-body'));
  return new Response(null, { status: 204 });
});
