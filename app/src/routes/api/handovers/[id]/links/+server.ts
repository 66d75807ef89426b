import { z } from 'zod';
import { LinkBody, NewPageLink, PageLink } from '$lib/api/handovers';
import { requireChangeIn } from '$lib/server/auth/sharing';
import { documentOf } from '$lib/server/http/documents';
import { endpoint } from '$lib/server/http/endpoint';
import { HANDOVERS } from '$lib/server/http/handovers';
import { writeAudited } from '$lib/server/log';
import { insertLink, listLinks } from '$lib/server/store/pageLinks';

const DAY_MS = 86_400_000;

export const GET = endpoint(
  {
    says: 'Links to a page that have not ended, the newest first.',
    answer: z.array(PageLink),
    refuses: ['unknown-page'],
    writes: false,
  },
  async ({ event }) => {
    const { id } = await documentOf(event, HANDOVERS);
    return event.locals.store.read((rows) => listLinks(rows, id, Date.now() * 1000));
  },
);

export const POST = endpoint(
  {
    says: 'An address at which one page can be read, and nothing else; with a token set it ends at its time, when it is revoked, or with the access of its maker.',
    body: LinkBody,
    answer: NewPageLink,
    refuses: ['unknown-page', 'not-allowed'],
    writes: true,
  },
  async ({ event, body: { days } }) => {
    const { id: page } = await documentOf(event, HANDOVERS);
    const path = `/read/${page}`;
    const { gate, who } = event.locals;
    if (!gate.isShut) return { address: path, until: null };
    const now = Date.now();
    const { id, query } = gate.linkTo(path);
    const link = await writeAudited(
      event,
      'made a link',
      async (rows) => {
        await requireChangeIn(rows, event, 'handover', page);
        const times = { madeAt: now * 1000, until: (now + days * DAY_MS) * 1000 };
        return insertLink(rows, { id, page, madeBy: who, ...times });
      },
      () => ({ page, link: id, days }),
    );
    return { id, address: `${path}?${query}`, until: link.until };
  },
);
