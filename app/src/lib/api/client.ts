import { z } from 'zod';
import { ask, type Fetch } from './ask';
import { CalendarChanged, CalendarEffect, type CalendarBody } from './calendars';
import { KeptEntry } from './keptEntries';
import { Ledger, type LedgerChange, type NewLedger } from './ledgers';
import { Handover, HandoverSummary, NewPageLink, PageLink } from './handovers';
import { type NewHandover } from './newHandovers';
import type { ListStretch } from './lists';
import { KeptPage, type NewPage, type PageChange } from './pages';
import { ReadingPreview } from '@jaunty-ledger/files/reading/preview';
import type { ProfileBody, ReadingBody } from './readings';
import { TapeSummary } from './summary';
import type { ColumnsBody } from '$lib/works/columns/work';
import { EnteredTapes, ImportProgress, TapeDetails, type TapeChange } from './tapes';

const send = (method: string, body: unknown): RequestInit => ({
  method,
  body: JSON.stringify(body),
  headers: { 'content-type': 'application/json' },
});

/** A stretch of a list: the one at an address that the stretch before has told, or the first one. */
async function fetchStretch<Item>(
  fetcher: Fetch,
  list: string,
  item: z.ZodType<Item>,
  { next, find }: { next?: string; find?: string } = {},
): Promise<ListStretch<Item>> {
  const answer = await ask(fetcher, next ?? (find === undefined ? list : `${list}?${new URLSearchParams({ find })}`));
  return {
    items: z.array(item).parse(await answer.json()),
    total: Number(answer.headers.get('x-total-count')),
    next: /^<([^>]+)>/.exec(answer.headers.get('link') ?? '')?.[1],
  };
}

type Stretch = Parameters<typeof fetchStretch>[3];

export const fetchLedgers = (fetcher: Fetch, stretch?: Stretch) =>
  fetchStretch(fetcher, '/api/ledgers', Ledger, stretch);

export const fetchLedger = async (fetcher: Fetch, id: number): Promise<Ledger> =>
  Ledger.parse(await (await ask(fetcher, `/api/ledgers/${id}`)).json());

export async function createLedger(fetcher: Fetch, ledger: NewLedger): Promise<Ledger> {
  return Ledger.parse(await (await ask(fetcher, '/api/ledgers', send('POST', ledger))).json());
}

export async function saveLedger(fetcher: Fetch, id: number, change: LedgerChange): Promise<Ledger> {
  return Ledger.parse(await (await ask(fetcher, `/api/ledgers/${id}`, send('PUT', change))).json());
}

export async function deleteLedger(fetcher: Fetch, { id, version }: Pick<Ledger, 'id' | 'version'>): Promise<void> {
  await ask(fetcher, `/api/ledgers/${id}?version=${version}`, { method: 'DELETE' });
}

export const fetchPages = (fetcher: Fetch, stretch?: Stretch) => fetchStretch(fetcher, '/api/pages', KeptPage, stretch);

export async function createPage(fetcher: Fetch, page: NewPage): Promise<KeptPage> {
  return KeptPage.parse(await (await ask(fetcher, '/api/pages', send('POST', page))).json());
}

export async function savePage(fetcher: Fetch, id: number, change: PageChange): Promise<KeptPage> {
  return KeptPage.parse(await (await ask(fetcher, `/api/pages/${id}`, send('PUT', change))).json());
}

export async function deletePage(fetcher: Fetch, { id, version }: Pick<KeptPage, 'id' | 'version'>): Promise<void> {
  await ask(fetcher, `/api/pages/${id}?version=${version}`, { method: 'DELETE' });
}

export async function keepEntry(fetcher: Fetch, entry: KeptEntry): Promise<KeptEntry> {
  return KeptEntry.parse(await (await ask(fetcher, '/api/entries', send('POST', entry))).json());
}

export async function forgetEntry(fetcher: Fetch, name: string): Promise<void> {
  await ask(fetcher, `/api/entries/${encodeURIComponent(name)}`, { method: 'DELETE' });
}

export async function fetchTape(fetcher: Fetch, name: string): Promise<TapeDetails> {
  return TapeDetails.parse(await (await ask(fetcher, `/api/tapes/${encodeURIComponent(name)}`)).json());
}

export const fetchHandovers = (fetcher: Fetch, stretch?: Stretch) =>
  fetchStretch(fetcher, '/api/handovers', HandoverSummary, stretch);

export async function fetchHandover(fetcher: Fetch, id: number): Promise<Handover> {
  return Handover.parse(await (await ask(fetcher, `/api/handovers/${id}`)).json());
}

export async function createHandover(fetcher: Fetch, page: NewHandover): Promise<Handover> {
  return Handover.parse(await (await ask(fetcher, '/api/handovers', send('POST', page))).json());
}

export async function saveHandover(
  fetcher: Fetch,
  id: number,
  change: NewHandover & { version: number },
): Promise<Handover> {
  return Handover.parse(await (await ask(fetcher, `/api/handovers/${id}`, send('PUT', change))).json());
}

export async function deleteHandover(fetcher: Fetch, { id, version }: Pick<Handover, 'id' | 'version'>): Promise<void> {
  await ask(fetcher, `/api/handovers/${id}?version=${version}`, { method: 'DELETE' });
}

/** An address at which one page can be read. */
export async function linkToHandover(fetcher: Fetch, id: number, days: number): Promise<NewPageLink> {
  return NewPageLink.parse(await (await ask(fetcher, `/api/handovers/${id}/links`, send('POST', { days }))).json());
}

export async function fetchLinks(fetcher: Fetch, id: number): Promise<PageLink[]> {
  return z.array(PageLink).parse(await (await ask(fetcher, `/api/handovers/${id}/links`)).json());
}

export async function revokeLink(fetcher: Fetch, id: number, link: string): Promise<void> {
  await ask(fetcher, `/api/handovers/${id}/links/${link}`, { method: 'DELETE' });
}

/** Figures of entries as a file of a media type. */
export async function postColumns(fetcher: Fetch, body: ColumnsBody, type: string): Promise<Blob> {
  const init = send('POST', body);
  return (await ask(fetcher, '/api/columns', { ...init, headers: { ...init.headers, accept: type } })).blob();
}

/** Enters a file; `query` as of `POST /api/tapes`. It may make several tapes. */
export async function enterTapes(
  fetcher: Fetch,
  file: File,
  query: Record<string, string>,
  id: string,
  signal: AbortSignal,
): Promise<TapeDetails[]> {
  const search = new URLSearchParams({ ...query, file: file.name });
  const answer: unknown = await (await ask(fetcher, `/api/tapes?${search}`, upload(file, id, signal))).json();
  const several = EnteredTapes.safeParse(answer);
  return several.success ? several.data.tapes : [TapeDetails.parse(answer)];
}

/** Adds a further file to a tape. */
export async function appendToTape(
  fetcher: Fetch,
  name: string,
  file: File,
  query: Record<string, string>,
  id: string,
  signal: AbortSignal,
): Promise<TapeDetails> {
  const search = new URLSearchParams({ ...query, file: file.name });
  return TapeDetails.parse(
    await (
      await ask(fetcher, `/api/tapes/${encodeURIComponent(name)}/append?${search}`, upload(file, id, signal))
    ).json(),
  );
}

const upload = (file: File, id: string, signal: AbortSignal): RequestInit => ({
  method: 'POST',
  body: file,
  headers: { 'content-type': 'application/octet-stream', 'x-import': id },
  signal,
});

export async function fetchProgress(fetcher: Fetch, id: string): Promise<ImportProgress> {
  return ImportProgress.parse(await (await ask(fetcher, `/api/imports/${id}`)).json());
}

export async function previewReading(fetcher: Fetch, body: z.infer<typeof ReadingBody>): Promise<ReadingPreview> {
  return ReadingPreview.parse(await (await ask(fetcher, '/api/readings', send('POST', body))).json());
}

export async function keepProfile(fetcher: Fetch, profile: z.infer<typeof ProfileBody>): Promise<void> {
  await ask(fetcher, '/api/profiles', send('POST', profile));
}

export async function changeTape(fetcher: Fetch, name: string, change: TapeChange): Promise<TapeDetails> {
  return TapeDetails.parse(
    await (await ask(fetcher, `/api/tapes/${encodeURIComponent(name)}`, send('PATCH', change))).json(),
  );
}

export async function restoreTape(fetcher: Fetch, name: string): Promise<void> {
  await ask(fetcher, `/api/tapes/${encodeURIComponent(name)}/restore`, { method: 'POST' });
}

export async function fetchSummary(fetcher: Fetch, name: string): Promise<TapeSummary> {
  return TapeSummary.parse(await (await ask(fetcher, `/api/tapes/${encodeURIComponent(name)}/summary`)).json());
}

/** What a change of a calendar would flag in the tapes that go by it. */
export async function calendarEffects(fetcher: Fetch, name: string, body: CalendarBody): Promise<CalendarEffect[]> {
  const path = `/api/calendars/${encodeURIComponent(name)}/effects`;
  return z.array(CalendarEffect).parse(await (await ask(fetcher, path, send('POST', body))).json());
}

export async function keepCalendar(fetcher: Fetch, name: string, body: CalendarBody): Promise<CalendarChanged> {
  const path = `/api/calendars/${encodeURIComponent(name)}`;
  return CalendarChanged.parse(await (await ask(fetcher, path, send('PUT', body))).json());
}

export async function forgetCalendar(fetcher: Fetch, name: string): Promise<void> {
  await ask(fetcher, `/api/calendars/${encodeURIComponent(name)}`, { method: 'DELETE' });
}

/** Makes the made-up market, on an empty shelf. */
export async function makeDemoWorld(fetcher: Fetch): Promise<void> {
  await ask(fetcher, '/api/demo', { method: 'POST' });
}

export async function deleteTape(fetcher: Fetch, name: string): Promise<void> {
  await ask(fetcher, `/api/tapes/${encodeURIComponent(name)}`, { method: 'DELETE' });
}

const RecordPage = z.object({
  /** Row of the first; not told of the records of a bar. */
  offset: z.number().int().default(0),
  more: z.boolean(),
  columns: z.record(z.string(), z.array(z.union([z.number(), z.string(), z.null()]))),
});
/** Some records of a tape. */
export type RecordPage = z.infer<typeof RecordPage>;

export async function fetchRecords(fetcher: Fetch, name: string, query: Record<string, string>): Promise<RecordPage> {
  return RecordPage.parse(
    await (await ask(fetcher, `/api/tapes/${encodeURIComponent(name)}/records?${new URLSearchParams(query)}`)).json(),
  );
}
