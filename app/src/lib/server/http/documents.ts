import type { RequestEvent } from '@sveltejs/kit';
import { refuse, type ProblemCode } from '$lib/api/problems';
import { isHidden, requireChangeIn, type Visitor } from '../auth/sharing';
import { writeAudited } from '../log';
import type { Documents, KeptDocument } from '../store/documents';
import { seenBy, type OwnedKind } from '../store/ownership';
import type { Rows, Wanted } from '../store/store';

/** A kind of documents, and how its refusals are told. Each document has an owner where people sign in. */
export interface DocumentKind<Body extends object> {
  documents: Documents<Body>;
  owned: Exclude<OwnedKind, 'tape'>;
  says: 'ledger' | 'page';
  unknown: Extract<ProblemCode, `unknown-${string}`>;
  changed: ProblemCode;
  /** Where all of them are listed. */
  list: string;
}

/** Pages offer this many documents to choose from, the ones saved last; the lists of the interface give all. */
export const CHOICES = 200;

/** The document that a request names. */
export async function documentOf<Body extends object>(
  event: RequestEvent,
  kind: DocumentKind<Body>,
): Promise<KeptDocument<Body>> {
  return event.locals.store.read((rows) => requireDocument(rows, event, kind));
}

async function requireDocument<Body extends object>(
  rows: Rows,
  { locals, params }: RequestEvent,
  kind: DocumentKind<Body>,
): Promise<KeptDocument<Body>> {
  const document = await seenDocument(rows, locals, kind, params.id!);
  if (!document) throw refuse(kind.unknown, `There is no ${kind.says} ${params.id}. GET ${kind.list} lists them.`);
  return document;
}

/** The document of a number as an address has it; undefined where there is none for whoever asks. */
export async function seenDocument<Body extends object>(
  rows: Rows,
  who: Visitor,
  { documents, owned }: DocumentKind<Body>,
  number: string,
): Promise<KeptDocument<Body> | undefined> {
  const id = /^\d{1,15}$/.test(number) ? Number(number) : undefined;
  if (id === undefined || (await isHidden(rows, who, owned, id))) return undefined;
  return documents.find(rows, id);
}

/** Leaves out what others keep to themselves. */
export const visibleTo = (
  rows: Rows,
  { gate, access, who }: Visitor,
  { owned }: Pick<DocumentKind<object>, 'owned'>,
): Wanted => (gate.isShut && access !== 'keep' ? seenBy(rows, owned, who) : () => undefined);

/** Saves a change, on the version that it was made on. */
export async function saveDocument<Body extends object>(
  event: RequestEvent,
  kind: DocumentKind<Body>,
  change: { title: string; body: Body; version: number },
): Promise<KeptDocument<Body>> {
  const saved = await writeAudited(
    event,
    'saved',
    async (rows) => {
      const { id } = await requireDocument(rows, event, kind);
      await requireChangeIn(rows, event, kind.owned, id);
      return kind.documents.update(rows, id, change, Date.now() * 1000);
    },
    (document) => document && noted(kind, document),
  );
  return saved ?? changedElsewhere(event, kind, change.version);
}

/** Takes one away, at the version that it was looked at. */
export async function removeDocument<Body extends object>(
  event: RequestEvent,
  kind: DocumentKind<Body>,
  version: number,
): Promise<void> {
  const gone = await writeAudited(
    event,
    'deleted',
    async (rows) => {
      const document = await requireDocument(rows, event, kind);
      await requireChangeIn(rows, event, kind.owned, document.id);
      return (await kind.documents.remove(rows, document.id, version)) ? document : undefined;
    },
    (document) => document && noted(kind, document),
  );
  if (!gone) await changedElsewhere(event, kind, version);
}

/** What an audit entry says of a document. */
export const noted = <Body extends object>(
  { says }: DocumentKind<Body>,
  { id, title, version }: Omit<KeptDocument<Body>, 'body'>,
) => ({ [says]: id, title, version });

async function changedElsewhere<Body extends object>(
  event: RequestEvent,
  kind: DocumentKind<Body>,
  made: number,
): Promise<never> {
  const { version: has } = await documentOf(event, kind);
  throw refuse(
    kind.changed,
    `This ${kind.says} was changed in another window: it is at version ${has}, the change was made on ${made}. Load it again.`,
  );
}
