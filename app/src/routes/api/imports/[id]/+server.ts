import { ImportProgress } from '$lib/api/tapes';
import { endpoint } from '$lib/server/http/endpoint';
import { progressOf } from '$lib/server/imports/importsUnderWay';

export const GET = endpoint(
  { says: 'How far an import has come; null once it has ended.', answer: ImportProgress, writes: false },
  async ({ event }) => progressOf(event.locals.store, event.params.id!),
);
