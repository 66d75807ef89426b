import type { RequestEvent } from '@sveltejs/kit';
import { refuse, type ProblemCode } from '$lib/api/problems';
import { requireChange } from '../auth/sharing';
import { logged } from '../log';
import type { Documents, KeptDocument } from '../store/documents';
import type { OwnedKind } from '../store/ownership';

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
  { documents, says, unknown, list }: DocumentKind<Body>,
): Promise<KeptDocument<Body>> {
  const id = /^\d{1,15}$/.test(params.id!) ? Number(params.id) : undefined;
  const document = id === undefined ? undefined : await locals.store.read((rows) => documents.find(rows, id));
  if (!document) throw refuse(unknown, `There is no ${says} ${params.id}. GET ${list} lists them.`);
  return document;
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
