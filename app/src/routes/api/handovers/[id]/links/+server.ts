import { LinkBody, PageLink } from '$lib/api/handovers';
import { documentOf } from '$lib/server/http/documents';
import { endpoint } from '$lib/server/http/endpoint';
import { logged } from '$lib/server/log';
import { HANDOVERS } from '$lib/server/http/handovers';

const DAY_MS = 86_400_000;

export const POST = endpoint(
  {
    says: 'An address at which one page can be read, and nothing else; with a token set it is signed and ends.',
    body: LinkBody,
    answer: PageLink,
    refuses: ['unknown-page'],
    writes: true,
  },
  async ({ event, body: { days } }) => {
    const { id } = await documentOf(event, HANDOVERS);
    const path = `/read/${id}`;
    const { gate } = event.locals;
    if (!gate.isShut) return { address: path, until: null };
    const until = Date.now() + days * DAY_MS;
    logged(event, 'made a link', { page: id, days });
    return { address: `${path}?${gate.linkTo(path, until)}`, until: new Date(until).toISOString() };
  },
);
