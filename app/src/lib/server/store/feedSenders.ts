import type { Rows } from './store';

interface SenderRow {
  tape_id: number;
  sender: string;
  last_sequence: number;
  records: number;
  last_at: number;
}

/** How far a sender has fed a tape: the number of its last record that is safe; -1 where there is none. */
export async function lastSequences(
  rows: Rows,
  tapeId: number,
  senders: readonly string[],
): Promise<Map<string, number>> {
  const found = await rows<SenderRow>('feed_sender').where({ tape_id: tapeId }).whereIn('sender', senders);
  return new Map(senders.map((name) => [name, found.find(({ sender }) => sender === name)?.last_sequence ?? -1]));
}

/** Notes what a sender has fed. @param at  the instant, in microseconds */
export async function noteSender(
  rows: Rows,
  tapeId: number,
  sender: string,
  { lastSequence, records, at }: { lastSequence: number; records: number; at: number },
): Promise<void> {
  const key = { tape_id: tapeId, sender };
  const known = await rows<SenderRow>('feed_sender').where(key).first();
  const row = { last_sequence: lastSequence, records: (known?.records ?? 0) + records, last_at: at };
  if (known) await rows<SenderRow>('feed_sender').where(key).update(row);
  else await rows<SenderRow>('feed_sender').insert({ ...key, ...row });
}

/** Forgets how far a sender has come: its next record may have any number. @returns whether there was one of the name */
export const forgetSender = async (rows: Rows, tapeId: number, sender: string): Promise<boolean> =>
  (await rows<SenderRow>('feed_sender').where({ tape_id: tapeId, sender }).delete()) > 0;
