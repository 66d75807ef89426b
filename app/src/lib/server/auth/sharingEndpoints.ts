import type { RequestEvent } from '@sveltejs/kit';
import { DocumentSharing, Ownership, TapeSharing } from '$lib/api/people';
import type { ProblemCode } from '$lib/api/problems';
import { endpoint } from '../http/endpoint';
import { logged } from '../log';
import { ownershipOf, type OwnedKind } from '../store/ownership';
import { share } from './sharing';

const CALLED = { tape: 'a tape', ledger: 'a ledger', page: 'a kept page', handover: 'a page to hand over' } as const;

/** The routes by which one hears whose something is, and its owner says what others may do with it. */
export function sharingEndpoints(
  kind: OwnedKind,
  unknown: ProblemCode,
  find: (event: RequestEvent) => Promise<{ id: number; says: string }>,
) {
  const GET = endpoint(
    {
      says: `Whose ${CALLED[kind]} is, and what others may do with it.`,
      answer: Ownership,
      refuses: [unknown],
      writes: false,
    },
    async ({ event }) => {
      const { id } = await find(event);
      return event.locals.store.read((rows) => ownershipOf(rows, kind, id));
    },
  );
  const PUT = endpoint(
    {
      says: `Lets others change ${CALLED[kind]}, or ${kind !== 'tape' ? 'read it only, or not see it' : 'read it only'}. Its owner says so, or whoever keeps the book.`,
      body: kind !== 'tape' ? DocumentSharing : TapeSharing,
      answer: Ownership,
      refuses: [unknown, 'not-allowed'],
      writes: true,
    },
    async ({ event, body: { others } }) => {
      const { id, says } = await find(event);
      const shared = await share(event, kind, id, others);
      logged(event, 'shared', { [kind]: says, others });
      return shared;
    },
  );
  return { GET, PUT };
}
