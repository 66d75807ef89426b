import { PersonChange } from '$lib/api/people';
import { refuse } from '$lib/api/problems';
import { requireKeeper } from '$lib/server/auth/keeper';
import { keptPassword } from '$lib/server/auth/passwords';
import { endpoint } from '$lib/server/http/endpoint';
import { logged } from '$lib/server/log';
import { changePerson, takeOut } from '$lib/server/store/people';

const unknown = (name: string) =>
  refuse('unknown-person', `Nobody signs in as ${name}. GET /api/people lists who does.`);

export const PATCH = endpoint(
  {
    says: 'Changes what somebody may, or his password; by a new password he is signed out everywhere.',
    body: PersonChange,
    refuses: ['not-allowed', 'unknown-person'],
    writes: true,
  },
  async ({ event, body: { access, password } }) => {
    requireKeeper(event);
    const name = event.params.name!;
    const change = {
      ...(access && { access }),
      ...(password !== undefined && { password: await keptPassword(password) }),
    };
    if (!(await event.locals.store.write((rows) => changePerson(rows, name, change)))) throw unknown(name);
    logged(event, 'changed what somebody may', { person: name, ...(access && { access }) });
  },
);

export const DELETE = endpoint(
  {
    says: 'Lets somebody in no more. What he has made stays.',
    refuses: ['not-allowed', 'unknown-person'],
    writes: true,
  },
  async ({ event }) => {
    requireKeeper(event);
    const name = event.params.name!;
    if (!(await event.locals.store.write((rows) => takeOut(rows, name)))) throw unknown(name);
    logged(event, 'let somebody in no more', { person: name });
  },
);
