import { USUAL_LIMIT, type ListStretch } from '$lib/api/lists';
import { addressOfNext } from './listAnswer';
import type { HandoverBody, HandoverSummary } from '$lib/api/handovers';
import { handovers, listHandovers } from '../store/handovers';
import { LINKED, type Visitor } from '../auth/sharing';
import type { Rows } from '../store/store';
import type { KeptDocument } from '../store/documents';
import { seenDocument, visibleTo, type DocumentKind } from './documents';

/** Pages to hand over, as a kind of documents. */
export const HANDOVERS: DocumentKind<HandoverBody> = {
  documents: handovers,
  owned: 'handover',
  says: 'page',
  unknown: 'unknown-page',
  changed: 'page-changed',
  list: '/api/handovers',
};

/** The page of a number as an address has it, for those who see it and for whoever has a link to it. */
export const pageToRead = (
  rows: Rows,
  who: Visitor,
  number: string,
): Promise<KeptDocument<HandoverBody> | undefined> =>
  who.who === LINKED.who ? handovers.find(rows, Number(number)) : seenDocument(rows, who, HANDOVERS, number);

/** Those saved last, as the page that lists them starts. */
export async function firstHandovers(rows: Rows, who: Visitor): Promise<ListStretch<HandoverSummary>> {
  const { items, total, next } = await listHandovers(rows, { limit: USUAL_LIMIT }, visibleTo(rows, who, HANDOVERS));
  return { items, total, ...(next && { next: addressOfNext(HANDOVERS.list, next, new URLSearchParams()) }) };
}
