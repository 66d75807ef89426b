import type { RequestEvent } from '@sveltejs/kit';
import { refuse } from '$lib/api/problems';

/** @throws {Refusal} for whoever may not make and take back tokens */
export function requireKeeper({ locals }: RequestEvent): void {
  if (locals.access !== 'keep') throw refuse('not-allowed', 'Only the keeper of the book makes and takes back tokens.');
}
