import { aboutOf, PageBody } from '$lib/api/pages';
import { Documents, isSameTape } from './documents';

/** Pages of the book that are kept under a name, beside the ledgers. */
export const pages = new Documents<PageBody>({
  table: 'page',
  read: (body) => PageBody.parse(body),
  tapeOf: (body) => aboutOf(body).tape,
  following: {
    renamed: (body, from, to) => {
      const now = (name: string) => (isSameTape(name, from) ? to : name);
      const renamed = withNames(body, now);
      return JSON.stringify(renamed) === JSON.stringify(body) ? undefined : (renamed as PageBody);
    },
  },
});

/** A page with the names of its tapes put through a change. */
function withNames(body: PageBody, now: (name: string) => string): PageBody {
  switch (body.page) {
    case 'compare':
      return { ...body, members: body.members.map((member) => ({ ...member, tape: now(member.tape) })) };
    case 'roll':
      return { ...body, tapes: body.tapes.map(now) };
    case 'examine':
      return { ...body, tape: now(body.tape), ...(body.beside && { beside: now(body.beside) }) };
    case 'project':
      return { ...body, tape: now(body.tape) };
  }
}
