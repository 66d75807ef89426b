import { error, fail, redirect, type RequestEvent } from '@sveltejs/kit';
import { PasswordChange } from '$lib/api/people';
import { Refusal } from '$lib/api/problems';
import { changeOwnPassword, endSession, sessionsFor, signOutEverywhere } from '$lib/server/auth/account';
import { problemOf, readBy } from '$lib/server/http/problem';
import { findPerson } from '$lib/server/store/people';

export async function load(event: RequestEvent) {
  const { gate, who, access, store } = event.locals;
  if (!gate.isShut) error(404, 'This server has no accounts.');
  const person = await store.read((rows) => findPerson(rows, { name: who }));
  const hasPassword = typeof person?.password === 'string';
  return { who, access, hasPassword, sessions: await sessionsFor(event) };
}

/** What a form asks for; what is wrong with it is shown on the page. */
const shown = (work: (event: RequestEvent, form: FormData) => Promise<void>) => async (event: RequestEvent) => {
  try {
    await work(event, await event.request.formData());
  } catch (cause) {
    const problem = cause instanceof Refusal ? cause.problem : problemOf(cause);
    return fail(problem.status, { problem: problem.detail });
  }
};

export const actions = {
  password: async (event) => {
    const failed = await shown(async (asked, form) => {
      const [current, password] = ['current', 'password'].map((field) => form.get(field));
      await changeOwnPassword(asked, readBy(PasswordChange, { current, password }, 'invalid-body'));
    })(event);
    if (failed) return failed;
    redirect(303, '/signin?to=/account');
  },
  end: shown((event, form) => endSession(event, String(form.get('id')))),
  endAll: async (event) => {
    await signOutEverywhere(event);
    redirect(303, '/signin');
  },
  signOut: async ({ locals, cookies, request }) => {
    await locals.gate.signOut(request, cookies);
    redirect(303, '/signin');
  },
};
