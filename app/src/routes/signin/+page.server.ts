import { fail, redirect } from '@sveltejs/kit';
import { Refusal } from '$lib/api/problems';
import { isSecure } from '$lib/server/http/clients';

/** A page of ours that somebody wanted to see; never an address elsewhere. */
const pathOf = (to: string | null): string => (to && /^\/(?![/\\])/.test(to) ? to : '/');

export const load = ({ locals, url }) => {
  const to = pathOf(url.searchParams.get('to'));
  if (locals.who !== '') redirect(303, to);
  return { to };
};

export const actions = {
  default: async (event) => {
    const { request, cookies, locals, getClientAddress, url } = event;
    const token = (await request.formData()).get('token');
    try {
      await locals.gate.signIn(String(token ?? '').trim(), getClientAddress(), cookies, isSecure(event));
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      return fail(error.problem.status, { problem: error.problem.detail });
    }
    redirect(303, pathOf(url.searchParams.get('to')));
  },
};
