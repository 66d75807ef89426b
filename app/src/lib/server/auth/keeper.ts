import type { RequestEvent } from '@sveltejs/kit';
import { refuse } from '$lib/api/problems';

/** @throws {Refusal} for whoever may not say who gets in */
export function requireKeeper({ locals }: RequestEvent): void {
  if (locals.access !== 'keep') throw refuse('not-allowed', 'Only the administrator can manage access.');
}
