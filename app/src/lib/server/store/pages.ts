import { PageBody } from '$lib/api/pages';
import { Documents, isSameTape } from './documents';

/** Pages of the book that are kept under a name, beside the ledgers. */
export const pages = new Documents<PageBody>(
  'page',
  (body) => PageBody.parse(body),
  (body, from, to) => {
    const now = (name: string) => (isSameTape(name, from) ? to : name);
    const renamed = { ...body, tape: now(body.tape), beside: body.beside && now(body.beside) };
    return renamed.tape === body.tape && renamed.beside === body.beside ? undefined : renamed;
  },
);
