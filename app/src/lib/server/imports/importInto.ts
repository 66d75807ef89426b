import { refuse } from '$lib/api/problems';
import { ReadingChoices } from '@jaunty-ledger/files/reading/reading';
import type { ImportQuery } from '$lib/api/tapes';
import type { Asked } from '../http/endpoint';
import { RequestBody } from '../http/bodies';
import { readBy } from '../http/problem';
import { jobs } from '../jobs/jobs';
import { settings } from '../settings';
import { calendarOf } from '../store/calendars';
import { findProfile } from '../store/profiles';
import type { Rows } from '../store/store';
import { importFile } from './importFile';
import type { ImportOrder } from './importProtocol';
import { beginImport } from './importsUnderWay';

/**
 * The body of a request, on its way into the store: read as it comes, or kept for another server that reads it.
 * Its `x-import` header is the number that progress is asked by.
 */
export async function importInto(
  { event: { request, locals }, signal, client }: Pick<Asked, 'event' | 'signal' | 'client'>,
  order: Omit<ImportOrder, 'now'>,
): Promise<string[]> {
  const id = request.headers.get('x-import')?.slice(0, 100);
  const { uploadMegabytes, silenceSeconds } = settings.limits;
  const body = new RequestBody(request, { mostBytes: uploadMegabytes * 2 ** 20, silenceMs: silenceSeconds * 1000 });
  const owner = locals.gate.isShut ? locals.who : undefined;
  const dated = { ...order, owner, now: Date.now() * 1000 };
  const underWay = beginImport(locals.store, id);
  const queue = settings.JAUNTY_ROLE === 'web' ? jobs() : undefined;
  if (!queue) return importFile(body, dated, signal, underWay.reached).finally(() => void underWay.end());
  const file = {
    body,
    order: dated,
    progressId: id,
    kept: (bytes: number) => underWay.reached(bytes, 0),
    isKept: underWay.end,
  };
  // the server that enters it tells from here on how far it is
  return queue.enter(file, { client, signal }).finally(() => {
    body.abandon();
    void underWay.end();
  });
}

/** The reading that a request asks for: its own choices, over those of the profile that it names. */
export async function choicesOfQuery(rows: Rows, query: ImportQuery): Promise<ReadingChoices> {
  const names = Object.keys(ReadingChoices.shape) as (keyof ReadingChoices)[];
  const own = Object.fromEntries(
    names.flatMap((name) => (query[name] === undefined ? [] : [[name, query[name]]])),
  ) as ReadingChoices;
  if (query.profile === undefined) return own;
  const profile = await findProfile(rows, query.profile);
  if (!profile)
    throw refuse('invalid-query', `No import settings are saved as ${query.profile}.`, {
      errors: [{ field: 'profile', message: 'is not known' }],
    });
  return { ...readBy(ReadingChoices, profile.choices, 'invalid-query'), ...own };
}

/** The zone and the hours of the calendar that a request names. @throws {Refusal} where there is none */
export async function hoursOfQuery(rows: Rows, { calendar }: ImportQuery): Promise<Partial<ImportQuery>> {
  if (calendar === undefined) return {};
  const { name, zone, session, weekdays, closed, closeIncluded } = await calendarOf(rows, calendar);
  return {
    calendar: name,
    zone,
    session: session ?? undefined,
    weekdays: weekdays ?? undefined,
    closed: closed ?? undefined,
    closeIncluded,
  };
}
