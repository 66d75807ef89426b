import type { RequestEvent } from '@sveltejs/kit';
import { refuse } from '$lib/api/problems';
import type { Ownership } from '$lib/api/people';
import type { Gate } from './gate';
import { noteOwner, ownershipOf, readOnlyFor, shareWith, type OwnedKind } from '../store/ownership';
import type { Rows } from '../store/store';

/* Whose something is, and who may change it. Where nobody signs in, nothing is anybody's. */

/** Who asks, and what he may. */
export type Visitor = Pick<App.Locals, 'who' | 'access'> & { gate: Pick<Gate, 'isShut'> };

/** Whoever has a link to one page. No person or token can have this name: it has a space. */
export const LINKED = { who: 'a link', access: 'read' as const };

/** Notes that whoever asks has made something, within the write that makes it. */
export async function made(
  { locals }: RequestEvent,
  rows: Rows,
  kind: OwnedKind,
  id: number,
  others?: Ownership['others'],
): Promise<void> {
  if (locals.gate.isShut) await noteOwner(rows, kind, id, { owner: locals.who, others });
}

const isOwn = ({ locals }: { locals: Visitor }, { owner }: Ownership): boolean =>
  owner === null || owner === locals.who || locals.access === 'keep';

/** @throws {Refusal} where it is somebody else's who lets others read it only */
export async function requireChange(event: RequestEvent, kind: OwnedKind, id: number): Promise<void> {
  await event.locals.store.read((rows) => requireChangeIn(rows, event, kind, id));
}

/** As `requireChange`, within the write that changes it. */
export async function requireChangeIn(rows: Rows, event: RequestEvent, kind: OwnedKind, id: number): Promise<void> {
  if (!event.locals.gate.isShut) return;
  const ownership = await ownershipOf(rows, kind, id);
  if (ownership.others !== 'change' && !isOwn(event, ownership))
    throw refuse(
      'not-allowed',
      `This is ${ownership.owner}'s, and others may only read it. Ask ${ownership.owner}, or make a copy.`,
    );
}

/** Who owns what is saved under a name: whoever saved it first. Nobody where nobody signs in. */
export function ownerOfNamed({ locals }: RequestEvent, now: { owner: string | null } | undefined): string | null {
  if (!locals.gate.isShut) return now?.owner ?? null;
  return now?.owner ?? locals.who;
}

/** @throws {Refusal} where somebody else has saved something under this name: all use it, its owner changes it */
export function requireOwn(event: RequestEvent, name: string, now: { owner: string | null } | undefined): void {
  if (!event.locals.gate.isShut || !now || isOwn(event, { owner: now.owner, others: 'read' })) return;
  throw refuse('not-allowed', `${name} was saved by ${now.owner}, who alone changes it. Choose another name.`);
}

/** Says what others may do with something. @throws {Refusal} where it is somebody else's */
export async function share(
  event: RequestEvent,
  kind: OwnedKind,
  id: number,
  others: Ownership['others'],
): Promise<Ownership> {
  const { store, who } = event.locals;
  return store.write(async (rows) => {
    const now = await ownershipOf(rows, kind, id);
    if (!isOwn(event, now))
      throw refuse('not-allowed', `This is ${now.owner}'s: only ${now.owner} says what others may do with it.`);
    await shareWith(rows, kind, id, { owner: who, others });
    return { owner: now.owner ?? who, others };
  });
}

/** The numbers of what whoever asks may only read. */
export async function readOnly({ locals }: RequestEvent, kind: OwnedKind): Promise<number[]> {
  const { gate, access, who, store } = locals;
  return gate.isShut && access !== 'keep' ? store.read((rows) => readOnlyFor(rows, kind, who)) : [];
}

/** Whether something is not there for whoever asks, since its owner keeps it to himself. */
export async function isHidden(rows: Rows, who: Visitor, kind: OwnedKind, id: number): Promise<boolean> {
  if (!who.gate.isShut) return false;
  const ownership = await ownershipOf(rows, kind, id);
  return ownership.others === 'nothing' && !isOwn({ locals: who }, ownership);
}

/** Whether whoever asks may see and stop the work of a client: his own, as `clientOf` tells it. */
export const mayStop = ({ locals: { who, access } }: RequestEvent, client: string): boolean =>
  access === 'keep' || client.startsWith(`${who} `);
