import type { RequestEvent } from '@sveltejs/kit';
import { refuse } from '$lib/api/problems';
import { ReadingChoices } from '$lib/api/reading';
import type { ImportQuery } from '$lib/api/tapes';
import { readBy } from '../problem';
import type { Store } from '../store/connection';
import { findProfile } from '../store/profiles';
import { importTape } from './importTape';
import type { ImportOrder } from './importProtocol';
import { beginImport, endImport } from './importsUnderWay';

/** The body of a request, on its way into the store. Its `x-import` header is the number that progress is asked by. */
export async function importInto(
  { request }: RequestEvent,
  order: Omit<ImportOrder, 'folder' | 'now'>,
): Promise<string[]> {
  const id = request.headers.get('x-import') ?? undefined;
  try {
    // a request without a body is a file without a line
    return await importTape(request.body ?? new Blob([]).stream(), order, request.signal, beginImport(id));
  } finally {
    endImport(id);
  }
}

/** The reading that a request asks for: its own choices, over those of the profile that it names. */
export async function choicesOfQuery(db: Store, query: ImportQuery): Promise<ReadingChoices> {
  const names = Object.keys(ReadingChoices.shape) as (keyof ReadingChoices)[];
  const own = Object.fromEntries(
    names.flatMap((name) => (query[name] === undefined ? [] : [[name, query[name]]])),
  ) as ReadingChoices;
  if (query.profile === undefined) return own;
  const profile = await findProfile(db, query.profile);
  if (!profile)
    throw refuse('invalid-query', `No reading is kept under the name ${query.profile}.`, {
      errors: [{ field: 'profile', message: 'is not known' }],
    });
  return { ...readBy(ReadingChoices, profile.choices, 'invalid-query'), ...own };
}
