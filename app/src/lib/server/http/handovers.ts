import type { HandoverBody } from '$lib/api/handovers';
import { handovers } from '../store/handovers';
import type { DocumentKind } from './documents';

/** Pages to hand over, as a kind of documents. */
export const HANDOVERS: DocumentKind<HandoverBody> = {
  documents: handovers,
  says: 'page',
  unknown: 'unknown-page',
  changed: 'page-changed',
  list: '/api/handovers',
};
