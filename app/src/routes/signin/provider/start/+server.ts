import { error, redirect } from '@sveltejs/kit';
import { Refusal } from '$lib/api/problems';
import { hasProvider, wayThere } from '$lib/server/auth/provider';
import { isSecure } from '$lib/server/http/clients';
import { pathOf } from '$lib/server/http/paths';

/** Sends a browser to the provider that signs people in. */
export const GET = async (event) => {
  const { url, cookies } = event;
  if (!hasProvider) error(404, 'There is no such page.');
  let way: URL;
  try {
    way = await wayThere(url.origin, pathOf(url.searchParams.get('to'), url.origin), cookies, isSecure(event));
  } catch (cause) {
    if (!(cause instanceof Refusal)) throw cause;
    error(cause.problem.status, cause.problem.detail);
  }
  redirect(303, way.href);
};
