import type { Ownership } from '$lib/api/people';
import type { Rows, Wanted } from './store';

/** What belongs to somebody. */
export type OwnedKind = 'tape' | 'ledger' | 'page' | 'handover';

interface OwnershipRow {
  kind: OwnedKind;
  document_id: number;
  owner: string;
  others: Ownership['others'];
}

/** Notes whose something is that was just made; others may change it until its owner says otherwise. */
export async function noteOwner(
  rows: Rows,
  kind: OwnedKind,
  id: number,
  { owner, others = 'change' }: { owner: string; others?: Ownership['others'] },
): Promise<void> {
  await rows<OwnershipRow>('ownership')
    .insert({ kind, document_id: id, owner, others })
    .onConflict(['kind', 'document_id'])
    .ignore();
}

export async function ownershipOf(rows: Rows, kind: OwnedKind, id: number): Promise<Ownership> {
  const row = await rows<OwnershipRow>('ownership').where({ kind, document_id: id }).first();
  return { owner: row?.owner ?? null, others: row?.others ?? 'change' };
}

/** Whether something is somebody's: of a person, or of a token that was taken back since. */
export const ownsAnything = async (rows: Rows, owner: string): Promise<boolean> =>
  (await rows<OwnershipRow>('ownership').where({ owner }).first('owner')) !== undefined;

/** Lets others change something, or read it only. What is nobody's becomes the one's who says so. */
export async function shareWith(
  rows: Rows,
  kind: OwnedKind,
  id: number,
  { owner, others }: { owner: string; others: Ownership['others'] },
): Promise<void> {
  await rows<OwnershipRow>('ownership')
    .insert({ kind, document_id: id, owner, others })
    .onConflict(['kind', 'document_id'])
    .merge(['others']);
}

/** What others than its owner may only read, of a kind: all that is not of one person. */
export const readOnlyFor = (rows: Rows, kind: OwnedKind, who: string): Promise<number[]> =>
  rows<OwnershipRow>('ownership').where({ kind, others: 'read' }).whereNot({ owner: who }).pluck('document_id');

/** Leaves out what others than one person keep to themselves. */
export const seenBy =
  (rows: Rows, kind: OwnedKind, who: string): Wanted =>
  (query) =>
    void query.whereNotIn(
      `${kind}.id`,
      rows<OwnershipRow>('ownership').where({ kind, others: 'nothing' }).whereNot({ owner: who }).select('document_id'),
    );

/** Leaves what one person has made. */
export const madeBy =
  (rows: Rows, kind: OwnedKind, who: string): Wanted =>
  (query) =>
    void query.whereIn(`${kind}.id`, rows<OwnershipRow>('ownership').where({ kind, owner: who }).select('document_id'));
