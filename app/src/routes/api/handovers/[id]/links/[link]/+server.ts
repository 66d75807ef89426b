import { refuse } from '$lib/api/problems';
import { requireChangeIn } from '$lib/server/auth/sharing';
import { documentOf } from '$lib/server/http/documents';
import { endpoint } from '$lib/server/http/endpoint';
import { HANDOVERS } from '$lib/server/http/handovers';
import { writeAudited } from '$lib/server/log';
import { deleteLink } from '$lib/server/store/pageLinks';

export const DELETE = endpoint(
  { says: 'Revokes a link to a page.', refuses: ['unknown-page', 'unknown-link', 'not-allowed'], writes: true },
  async ({ event }) => {
    const { id: page } = await documentOf(event, HANDOVERS);
    const link = event.params.link!;
    await writeAudited(
      event,
      'revoked a link',
      async (rows) => {
        await requireChangeIn(rows, event, 'handover', page);
        if (!(await deleteLink(rows, page, link)))
          throw refuse('unknown-link', `Page ${page} has no link ${link.slice(0, 40)}.`);
      },
      () => ({ page, link }),
    );
  },
);
