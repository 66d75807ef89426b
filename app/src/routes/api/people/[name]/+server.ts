import { PersonChange } from '$lib/api/people';
import { refuse } from '$lib/api/problems';
import { requireKeeper } from '$lib/server/auth/keeper';
import { keptPassword } from '$lib/server/auth/passwords';
import { endpoint } from '$lib/server/http/endpoint';
import { logged } from '$lib/server/log';
import { changePerson, takeOut } from '$lib/server/store/people';

const unknown = (name: string) => refuse('unknown-person', `There is no user ${name}. GET /api/people lists them.`);

export const PATCH = endpoint(
  {
    says: 'Changes the access or the password of a user; a new password ends all their sessions.',
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
    logged(event, 'access changed', { person: name, ...(access && { access }) });
  },
);

export const DELETE = endpoint(
  {
    says: 'Removes the access of a user. Their pages and tapes stay.',
    refuses: ['not-allowed', 'unknown-person'],
    writes: true,
  },
  async ({ event }) => {
    requireKeeper(event);
    const name = event.params.name!;
    if (!(await event.locals.store.write((rows) => takeOut(rows, name)))) throw unknown(name);
    logged(event, 'access removed', { person: name });
  },
);
