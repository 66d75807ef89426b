import type { RequestEvent } from '@sveltejs/kit';
import { refuse, type ProblemCode } from '$lib/api/problems';
import { isHidden, requireChange, type Visitor } from '../auth/sharing';
import { logged } from '../log';
import type { Documents, KeptDocument } from '../store/documents';
import type { OwnedKind } from '../store/ownership';
import type { Rows } from '../store/store';

/** A kind of documents, and how its refusals are told. */
export interface DocumentKind<Body extends object> {
  documents: Documents<Body>;
  says: 'ledger' | 'page';
  /** Where each belongs to somebody. */
  owned?: OwnedKind;
  unknown: ProblemCode;
  changed: ProblemCode;
  /** Where all of them are listed. */
  list: string;
}

/** The document that a request names. */
export async function documentOf<Body extends object>(
  { locals, params }: RequestEvent,
  kind: DocumentKind<Body>,
): Promise<KeptDocument<Body>> {
  const { says, unknown, list } = kind;
  const document = await locals.store.read((rows) => seenDocument(rows, locals, kind, params.id!));
  if (!document) throw refuse(unknown, `There is no ${says} ${params.id}. GET ${list} lists them.`);
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
  if (id === undefined || (owned && (await isHidden(rows, who, owned, id)))) return undefined;
  return documents.find(rows, id);
}

/** Saves a change, on the version that it was made on. */
export async function saveDocument<Body extends object>(
  event: RequestEvent,
  kind: DocumentKind<Body>,
  change: { title: string; body: Body; version: number },
): Promise<KeptDocument<Body>> {
  const { id } = await documentOf(event, kind);
  if (kind.owned) await requireChange(event, kind.owned, id);
  const saved = await event.locals.store.write((rows) => kind.documents.update(rows, id, change, Date.now() * 1000));
  return saved ?? changedElsewhere(event, kind, change.version);
}

/** Takes one away, at the version that it was looked at. */
export async function removeDocument<Body extends object>(
  event: RequestEvent,
  kind: DocumentKind<Body>,
  version: number,
): Promise<void> {
  const { id, title } = await documentOf(event, kind);
  if (kind.owned) await requireChange(event, kind.owned, id);
  const isGone = await event.locals.store.write((rows) => kind.documents.remove(rows, id, version));
  if (!isGone) await changedElsewhere(event, kind, version);
  logged(event, 'deleted', { [kind.says]: id, title });
}

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
