import { error, redirect } from '@sveltejs/kit';
import { Refusal } from '$lib/api/problems';
import { comeBack, hasProvider } from '$lib/server/auth/provider';
import { addressOf, isSecure } from '$lib/server/http/clients';
import { logged } from '$lib/server/log';

/** Where somebody comes back to whom the provider has signed in; it may be for the first time. */
export const GET = async (event) => {
  const { url, cookies, locals } = event;
  if (!hasProvider) error(404, 'There is no such page.');
  let goal: string;
  try {
    const { to, ...known } = await comeBack(url, url.origin, cookies, isSecure(event));
    Object.assign(
      locals,
      await locals.gate.signInKnown(known, { address: addressOf(event), cookies, isSecure: isSecure(event) }),
    );
    logged(event, 'signed in', { by: 'provider' });
    goal = to;
  } catch (cause) {
    if (!(cause instanceof Refusal)) throw cause;
    error(cause.problem.status, cause.problem.detail);
  }
  // the session's cookie is not sent on the way from another site: the page of sign-in goes on from here
  redirect(303, `/signin?${new URLSearchParams({ to: goal })}`);
};
