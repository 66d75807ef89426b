import { z } from 'zod';
import { NewPerson, Person } from '$lib/api/people';
import { requireKeeper } from '$lib/server/auth/keeper';
import { keptPassword } from '$lib/server/auth/passwords';
import { endpoint } from '$lib/server/http/endpoint';
import { logged } from '$lib/server/log';
import { insertPerson, listPeople } from '$lib/server/store/people';

export const GET = endpoint(
  { says: 'People who may sign in by a name.', answer: z.array(Person), refuses: ['not-allowed'], writes: false },
  async ({ event }) => {
    requireKeeper(event);
    return event.locals.store.read(listPeople);
  },
);

export const POST = endpoint(
  {
    says: 'Adds a user with a name and a password.',
    body: NewPerson,
    answer: Person,
    status: 201,
    refuses: ['not-allowed', 'name-taken'],
    writes: true,
  },
  async ({ event, body: { name, access, password } }) => {
    requireKeeper(event);
    const person = { name, access, password: await keptPassword(password), subject: null };
    const made = await event.locals.store.write((rows) => insertPerson(rows, person, Date.now() * 1000));
    logged(event, 'access granted', { person: name, access });
    return made;
  },
);
