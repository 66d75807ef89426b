import { pages } from '../store/pages';
import type { KeptPage, PageBody } from '$lib/api/pages';
import type { Visitor } from '../auth/sharing';
import type { Rows } from '../store/store';
import { CHOICES, visibleTo, type DocumentKind } from './documents';

/** Pages of the book that are kept under a name, as a kind of documents. */
export const PAGES: DocumentKind<PageBody> = {
  documents: pages,
  owned: 'page',
  says: 'page',
  unknown: 'unknown-page',
  changed: 'page-changed',
  list: '/api/pages',
};

/** Those saved last, to choose from. */
export const pageChoices = (rows: Rows, who: Visitor): Promise<KeptPage[]> =>
  pages.list(rows, visibleTo(rows, who, PAGES), CHOICES);
