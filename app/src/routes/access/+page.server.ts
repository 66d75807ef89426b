import { error, fail, redirect } from '@sveltejs/kit';
import { Refusal } from '$lib/api/problems';
import { NewToken } from '$lib/api/tokens';
import { hashOf, newToken } from '$lib/server/auth/gate';
import { problemOf, readBy } from '$lib/server/http/problem';
import { logged } from '$lib/server/log';
import { deleteToken, insertToken, listTokens } from '$lib/server/store/tokens';

export async function load({ locals }) {
  if (locals.access !== 'keep') error(403, 'Only the keeper of the book makes and takes back tokens.');
  return { tokens: await locals.store.read(listTokens), isShut: locals.gate.isShut };
}

export const actions = {
  make: async (event) => {
    const { request, locals } = event;
    if (locals.access !== 'keep') return fail(403, { problem: 'Only the keeper makes tokens.' });
    const form = await request.formData();
    try {
      const asked = { name: form.get('name'), access: form.get('access') };
      const { name, access } = readBy(NewToken, asked, 'invalid-body');
      const token = newToken();
      await locals.store.write((rows) => insertToken(rows, { name, access, hash: hashOf(token) }, Date.now() * 1000));
      logged(event, 'made a token', { token: name, access });
      return { made: { name, token } };
    } catch (cause) {
      const problem = cause instanceof Refusal ? cause.problem : problemOf(cause);
      return fail(problem.status, { problem: problem.detail });
    }
  },
  takeBack: async (event) => {
    const { request, locals } = event;
    if (locals.access !== 'keep') return fail(403, { problem: 'Only the keeper takes tokens back.' });
    const name = String((await request.formData()).get('name'));
    await locals.store.write((rows) => deleteToken(rows, name));
    logged(event, 'took back a token', { token: name });
  },
  signOut: ({ locals, cookies }) => {
    locals.gate.signOut(cookies);
    redirect(303, '/signin');
  },
};
