import { redirect } from '@sveltejs/kit';
import { signOutThere } from '$lib/server/auth/provider';

/** On the way to sign out at the provider, which sends the browser back to the page of sign-in. */
export const GET = async ({ url, cookies }) => {
  const there = await signOutThere(url.origin, cookies, { isLeaving: true });
  redirect(303, there ? there.href : '/signin');
};
