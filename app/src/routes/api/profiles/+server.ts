import { ProfileBody } from '$lib/api/readings';
import { ownerOfNamed, requireOwn } from '$lib/server/auth/sharing';
import { endpoint } from '$lib/server/http/endpoint';
import { writeAudited } from '$lib/server/log';
import { keepProfile, ownerOfProfile } from '$lib/server/store/profiles';

export const POST = endpoint(
  {
    says: 'Saves import settings under a name; they are proposed again for files of the same shape.',
    body: ProfileBody,
    refuses: ['not-allowed'],
    writes: true,
  },
  async ({ event, body }) => {
    await writeAudited(
      event,
      'saved',
      async (rows) => {
        const now = await ownerOfProfile(rows, body.name);
        requireOwn(event, body.name, now);
        await keepProfile(rows, body, ownerOfNamed(event, now));
      },
      () => ({ importSettings: body.name }),
    );
  },
);
