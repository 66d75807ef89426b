import { error, fail, redirect, type RequestEvent } from '@sveltejs/kit';
import { NewPerson, PersonChange } from '$lib/api/people';
import { Refusal } from '$lib/api/problems';
import { NewToken } from '$lib/api/tokens';
import { hashOf, newToken } from '$lib/server/auth/gate';
import { keptPassword } from '$lib/server/auth/passwords';
import { problemOf, readBy } from '$lib/server/http/problem';
import { isNoted, logged } from '$lib/server/log';
import { listActs } from '$lib/server/store/audit';
import { changePerson, takeOut, insertPerson, listPeople } from '$lib/server/store/people';
import { deleteToken, insertToken, listTokens } from '$lib/server/store/tokens';

/** Acts that the page shows; `GET /api/audit` gives all. */
const SHOWN_ACTS = 60;

export async function load({ locals }) {
  if (locals.access !== 'keep') error(403, 'Only the administrator can manage access.');
  const { store, gate } = locals;
  return store.read(async (rows) => ({
    isShut: gate.isShut,
    tokens: await listTokens(rows),
    people: await listPeople(rows),
    acts: await listActs(rows, { limit: SHOWN_ACTS }),
  }));
}

/** What a form asks for, done by whoever keeps the book; what is wrong with it is told on the page. */
const keeping =
  <Done>(work: (event: RequestEvent, form: FormData) => Promise<Done>) =>
  async (event: RequestEvent) => {
    if (event.locals.access !== 'keep') return fail(403, { problem: 'Only the keeper says who gets in.' });
    try {
      const done = await work(event, await event.request.formData());
      await isNoted(); // the page shows it
      return done;
    } catch (cause) {
      const problem = cause instanceof Refusal ? cause.problem : problemOf(cause);
      return fail(problem.status, { problem: problem.detail });
    }
  };

export const actions = {
  make: keeping(async (event, form) => {
    const asked = { name: form.get('name'), access: form.get('access') };
    const { name, access } = readBy(NewToken, asked, 'invalid-body');
    const token = newToken();
    await event.locals.store.write((rows) =>
      insertToken(rows, { name, access, hash: hashOf(token) }, Date.now() * 1000),
    );
    logged(event, 'made a token', { token: name, access });
    return { made: { name, token } };
  }),
  takeBack: keeping(async (event, form) => {
    const name = String(form.get('name'));
    await event.locals.store.write((rows) => deleteToken(rows, name));
    logged(event, 'took back a token', { token: name });
  }),
  letIn: keeping(async (event, form) => {
    const asked = Object.fromEntries(['name', 'access', 'password'].map((field) => [field, form.get(field)]));
    const { name, access, password } = readBy(NewPerson, asked, 'invalid-body');
    const person = { name, access, password: await keptPassword(password), subject: null };
    await event.locals.store.write((rows) => insertPerson(rows, person, Date.now() * 1000));
    logged(event, 'access granted', { person: name, access });
  }),
  change: keeping(async (event, form) => {
    const name = String(form.get('name'));
    const { access } = readBy(PersonChange, { access: form.get('access') }, 'invalid-body');
    await event.locals.store.write((rows) => changePerson(rows, name, { access }));
    logged(event, 'access changed', { person: name, access });
  }),
  letOut: keeping(async (event, form) => {
    const name = String(form.get('name'));
    await event.locals.store.write((rows) => takeOut(rows, name));
    logged(event, 'access removed', { person: name });
  }),
  signOut: async ({ locals, cookies, request }) => {
    await locals.gate.signOut(request, cookies);
    redirect(303, '/signin');
  },
};
