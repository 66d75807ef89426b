import { aboutOf, PageBody } from '$lib/api/pages';
import { Documents, isSameTape } from './documents';

/** Pages of the book that are kept under a name, beside the ledgers. */
export const pages = new Documents<PageBody>(
  'page',
  (body) => PageBody.parse(body),
  (body) => aboutOf(body).tape,
  (body, from, to) => {
    const now = (name: string) => (isSameTape(name, from) ? to : name);
    const renamed =
      body.page === 'compare'
        ? { ...body, members: body.members.map((member) => ({ ...member, tape: now(member.tape) })) }
        : {
            ...body,
            tape: now(body.tape),
            ...(body.page === 'examine' && body.beside && { beside: now(body.beside) }),
          };
    return JSON.stringify(renamed) === JSON.stringify(body) ? undefined : (renamed as PageBody);
  },
);
