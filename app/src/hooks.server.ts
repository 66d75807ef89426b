import { timingSafeEqual } from 'node:crypto';
import type { Handle, HandleServerError, ServerInit } from '@sveltejs/kit';
import { DAY } from '@jaunty-ledger/core';
import { makeProblem } from '$lib/api/problems';
import { clearSpools } from '$lib/server/files/tapeSpool';
import { closePool, pool } from '$lib/server/jobs/computePool';
import { keepThreadReady } from '$lib/server/jobs/importTape';
import { log } from '$lib/server/log';
import { problemAnswer } from '$lib/server/problem';
import { settings } from '$lib/server/settings';
import { openStore, type Store } from '$lib/server/store/connection';
import { clearDeleted } from '$lib/server/store/tapes';

let db: Store;

export const init: ServerInit = async () => {
  clearSpools(settings.JAUNTY_DATA);
  db = await openStore(settings.JAUNTY_DATA);
  await clearDeleted(db, Date.now() * 1000 - DAY);
  // the first page and the first file find their threads running
  pool();
  keepThreadReady();
  process.once('sveltekit:shutdown', () => void Promise.all([closePool(), db.destroy()]));
};

export const handle: Handle = async ({ event, resolve }) => {
  const refusal = refusalOf(event.request);
  if (refusal) return refusal;
  event.locals.db = db;
  const response = await resolve(event, { filterSerializedResponseHeaders: (name) => name === 'content-type' });
  response.headers.set('x-content-type-options', 'nosniff');
  response.headers.set('referrer-policy', 'no-referrer');
  return response;
};

export const handleError: HandleServerError = ({ error, event, status }) => {
  if (status >= 500) log.error({ err: error, path: event.url.pathname }, 'a page failed');
  return { message: status === 404 ? 'There is no such page.' : 'Something went wrong here that should not.' };
};

/** Keeps out pages of other sites and names that were bent to this address, and strangers where others can reach it. */
function refusalOf(request: Request): Response | undefined {
  const host = request.headers.get('host') ?? '';
  const origin = request.headers.get('origin');
  const name = host.replace(/:\d+$/, '');
  if (settings.JAUNTY_TOKEN === undefined && !['127.0.0.1', 'localhost', '[::1]'].includes(name))
    return problemAnswer(makeProblem('not-allowed', `This server answers to 127.0.0.1 and localhost, not to ${name}.`));
  if (origin !== null && origin !== `http://${host}` && origin !== `https://${host}`)
    return problemAnswer(makeProblem('not-allowed', 'Requests from pages of other sites are refused.'));
  if (settings.JAUNTY_TOKEN !== undefined && !isSame(tokenOf(request), settings.JAUNTY_TOKEN))
    return problemAnswer(
      makeProblem(
        'token-needed',
        'Send the token as `Authorization: Bearer …`, or as the password of a user of any name.',
      ),
    );
  return undefined;
}

function tokenOf(request: Request): string {
  const [scheme, value] = (request.headers.get('authorization') ?? '').split(' ');
  if (scheme === 'Bearer') return value ?? '';
  return scheme === 'Basic'
    ? Buffer.from(value ?? '', 'base64')
        .toString()
        .replace(/^[^:]*:/, '')
    : '';
}

function isSame(given: string, wanted: string): boolean {
  const [a, b] = [Buffer.from(given), Buffer.from(wanted)];
  return a.length === b.length && timingSafeEqual(a, b);
}
