import { error, redirect } from '@sveltejs/kit';
import { Refusal } from '$lib/api/problems';
import { canSignOutThere, wayOut } from '$lib/server/auth/provider';

/** On the way to sign out at the provider, which sends the browser back to the page of sign-in. */
export const GET = async ({ url, cookies }) => {
  if (!canSignOutThere(cookies)) redirect(303, '/signin');
  let way: URL;
  try {
    way = await wayOut(url.origin, cookies);
  } catch (cause) {
    if (!(cause instanceof Refusal)) throw cause;
    error(cause.problem.status, cause.problem.detail);
  }
  redirect(303, way.href);
};
