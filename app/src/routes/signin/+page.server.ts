import { fail, redirect } from '@sveltejs/kit';
import { Refusal } from '$lib/api/problems';
import { canSignOutThere, hasProvider, providerName } from '$lib/server/auth/provider';
import { addressOf, isSecure } from '$lib/server/http/clients';
import { pathOf } from '$lib/server/http/paths';
import { logged } from '$lib/server/log';

export const load = ({ locals, url, cookies }) => {
  const to = pathOf(url.searchParams.get('to'), url.origin);
  if (locals.who !== '') redirect(303, to);
  return { to, provider: hasProvider ? providerName : undefined, canSignOutThere: canSignOutThere(cookies) };
};

export const actions = {
  default: async (event) => {
    const { request, cookies, locals, url } = event;
    const form = await request.formData();
    const [name, word] = ['name', 'token'].map((field) => String(form.get(field) ?? '').trim());
    try {
      const { gate } = locals;
      const browser = { address: addressOf(event), cookies, isSecure: isSecure(event) };
      const visitor =
        name === '' ? await gate.signIn(word, browser) : await gate.signInPerson({ name, password: word }, browser);
      Object.assign(locals, visitor);
      logged(event, 'signed in', { by: name === '' ? 'token' : 'password' });
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      return fail(error.problem.status, { problem: error.problem.detail, name });
    }
    redirect(303, pathOf(url.searchParams.get('to'), url.origin));
  },
};
