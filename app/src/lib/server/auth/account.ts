import type { RequestEvent } from '@sveltejs/kit';
import type { z } from 'zod';
import type { OpenSession, PasswordChange } from '$lib/api/people';
import { refuse } from '$lib/api/problems';
import { addressOf } from '../http/clients';
import { writeAudited } from '../log';
import { changePerson, findPerson } from '../store/people';
import { endSessions } from '../store/sessions';
import { keptPassword } from './passwords';

/* What people do with their own access: whoever may only read may do this too. */

/** The sessions of whoever asks. */
export async function sessionsFor({ locals: { gate, who }, request, cookies }: RequestEvent): Promise<OpenSession[]> {
  if (!gate.isShut) return [];
  const own = await gate.sessionOf(request, cookies);
  return (await gate.sessionsOf(who)).map((session) => ({ ...session, isThis: session.id === own }));
}

/** @throws {Refusal} where whoever asks has no such session */
export async function endSession(event: RequestEvent, id: string): Promise<void> {
  const { who } = event.locals;
  const ended = await writeAudited(
    event,
    'ended a session',
    (rows) => endSessions(rows, who, id),
    (count) => (count > 0 ? { session: id } : undefined),
  );
  if (ended === 0) throw refuse('unknown-session', `You have no session ${id.slice(0, 40)}.`);
}

/** @throws {Refusal} where the current password is another one, or whoever asks has none */
export async function changeOwnPassword(
  event: RequestEvent,
  { current, password }: z.infer<typeof PasswordChange>,
): Promise<void> {
  const { gate, who, store } = event.locals;
  const person = gate.isShut ? await store.read((rows) => findPerson(rows, { name: who })) : undefined;
  if (!person?.password) throw refuse('not-allowed', 'You do not sign in by a password here.');
  await gate.requirePassword(who, current, addressOf(event));
  const kept = await keptPassword(password);
  await writeAudited(
    event,
    'changed the own password',
    async (rows) => {
      await changePerson(rows, who, { password: kept });
      await endSessions(rows, who);
    },
    () => ({ person: who }),
  );
}

/** Signs whoever asks out in all browsers. */
export async function signOutEverywhere(event: RequestEvent): Promise<void> {
  const { who } = event.locals;
  await writeAudited(
    event,
    'signed out everywhere',
    (rows) => endSessions(rows, who),
    (sessions) => ({ sessions }),
  );
}
