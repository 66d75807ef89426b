import { answering } from '$lib/server/answer';
import { forgetEntry } from '$lib/server/store/keptEntries';

/** Keeps a formula no longer. Ledgers that have it are left as they are. */
export const DELETE = answering(async ({ params, locals }) => {
  await forgetEntry(locals.db, params.name!);
  return new Response(null, { status: 204 });
});
