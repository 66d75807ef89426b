import type { RequestEvent } from '@sveltejs/kit';
import { z } from 'zod';
import { LedgerVersion } from '$lib/api/ledgers';
import { DocumentsQuery } from '$lib/api/lists';
import type { Ownership } from '$lib/api/people';
import { made, type Visitor } from '../auth/sharing';
import { sharingEndpoints } from '../auth/sharingEndpoints';
import { writeAudited } from '../log';
import type { KeptDocument } from '../store/documents';
import type { ListPage, ListRange } from '../store/listPages';
import type { Rows, Wanted } from '../store/store';
import { documentOf, noted, removeDocument, saveDocument, visibleTo, type DocumentKind } from './documents';
import { endpoint, type Endpoint } from './endpoint';
import { BY_SAVING, listAnswer, rangeOf } from './listAnswer';

/* The routes that every kind of documents has: a list, one of them, and what others may do with it. */

/** Fields that a kind's schema for new documents has; `others` is not kept with the body. */
type NewDocument<Body> = { title: string; body: Body; others?: Ownership['others'] };

interface CollectionOptions<Body extends object> {
  /** What the list, and making one, say of themselves. */
  says: { list: string; make: string };
  newDocument: z.ZodType<NewDocument<Body>>;
  answer: z.ZodType;
  bodyMegabytes?: number;
  /** What the list answers with instead of whole documents. */
  summary?: {
    answer: z.ZodType;
    list: (rows: Rows, range: ListRange, wanted: Wanted) => Promise<ListPage<unknown>>;
  };
}

/** `GET` of all, and `POST` of a new one. */
export function collectionEndpoints<Body extends object>(
  kind: DocumentKind<Body>,
  { says, newDocument, answer, bodyMegabytes, summary }: CollectionOptions<Body>,
): { GET: Endpoint; POST: Endpoint } {
  const GET = endpoint(
    { says: says.list, query: DocumentsQuery, answer: z.array(summary?.answer ?? answer), isList: true, writes: false },
    async ({ event, query }) => {
      const { documents } = kind;
      const read = summary?.list ?? documents.listPage.bind(documents);
      const page = await event.locals.store.read((rows) =>
        read(rows, rangeOf(query, BY_SAVING), wanted(rows, event.locals, kind, query)),
      );
      return listAnswer(event, page);
    },
  );
  const POST = endpoint(
    { says: says.make, body: newDocument, bodyMegabytes, answer, status: 201, writes: true },
    ({ event, body: { others, ...document } }) => insertDocument(event, kind, document, others),
  );
  return { GET, POST };
}

const insertDocument = <Body extends object>(
  event: RequestEvent,
  kind: DocumentKind<Body>,
  document: Pick<KeptDocument<Body>, 'title' | 'body'>,
  others?: Ownership['others'],
): Promise<KeptDocument<Body>> =>
  writeAudited(
    event,
    'made',
    async (rows) => {
      const stored = await kind.documents.insert(rows, document, Date.now() * 1000);
      await made(event, rows, kind.owned, stored.id, others);
      return stored;
    },
    (stored) => noted(kind, stored),
  );

const wanted =
  <Body extends object>(
    rows: Rows,
    visitor: Visitor,
    kind: DocumentKind<Body>,
    { tape, find }: z.infer<typeof DocumentsQuery>,
  ): Wanted =>
  (query) => {
    void query.where(visibleTo(rows, visitor, kind));
    if (tape !== undefined) void query.where(kind.documents.about(rows, tape));
    if (find !== undefined) void query.where(kind.documents.titled(find));
  };

interface ItemOptions<Body extends object> {
  /** What reading, saving and deleting one say of themselves. */
  says: { read: string; save: string; remove: string };
  change: z.ZodType<Pick<KeptDocument<Body>, 'title' | 'body' | 'version'>>;
  answer: z.ZodType;
  bodyMegabytes?: number;
}

/** `GET`, `PUT` and `DELETE` of one. */
export function itemEndpoints<Body extends object>(
  kind: DocumentKind<Body>,
  { says, change, answer, bodyMegabytes }: ItemOptions<Body>,
): { GET: Endpoint; PUT: Endpoint; DELETE: Endpoint } {
  const refuses = [kind.unknown, kind.changed, 'not-allowed'] as const;
  return {
    GET: endpoint({ says: says.read, answer, refuses: [kind.unknown], writes: false }, ({ event }) =>
      documentOf(event, kind),
    ),
    PUT: endpoint({ says: says.save, body: change, bodyMegabytes, answer, refuses, writes: true }, ({ event, body }) =>
      saveDocument(event, kind, body),
    ),
    DELETE: endpoint(
      { says: says.remove, query: LedgerVersion, refuses, writes: true },
      ({ event, query: { version } }) => removeDocument(event, kind, version),
    ),
  };
}

/** `GET` and `PUT` of what others may do with one. */
export const documentSharing = <Body extends object>(kind: DocumentKind<Body>): { GET: Endpoint; PUT: Endpoint } =>
  sharingEndpoints(kind.owned, kind.unknown, async (event) => {
    const { id, title } = await documentOf(event, kind);
    return { id, says: title };
  });
