import { makeProblem, refuse, type Problem } from '$lib/api/problems';
import type { Rows, Store } from './store';

/*
 * Work that any of several servers may do. Whoever takes a job begins a new attempt at it; only the last attempt may end it, so
 * that a server that was taken for dead, and is not, changes nothing any more.
 */

/** `arriving` while its bytes come in; `waiting` for a server; then one works on it, until it is at an end. */
export type JobState = 'arriving' | 'waiting' | 'working' | 'done' | 'failed' | 'stopped';

interface JobRow {
  id: string;
  kind: string;
  input: string;
  client: string;
  state: JobState;
  attempt: number;
  server: string | null;
  beat: number;
  share: number;
  /** 0 or 1. */
  is_stopped: number;
  problem: string | null;
  made_at: number;
  ended_at: number | null;
}

interface BytesRow {
  job_id: string;
  attempt: number;
  sequence: number;
  data: Buffer;
}

/** An attempt at a job. */
export interface Attempt {
  id: string;
  attempt: number;
}

export interface TakenJob extends Attempt {
  kind: string;
  input: string;
  client: string;
}

/** A job as whoever waits for it sees it. */
export interface JobCourse extends Attempt {
  state: JobState;
  share: number;
  problem: Problem | null;
}

type JobAbout = Pick<JobRow, 'id' | 'kind' | 'client' | 'state' | 'share' | 'attempt' | 'server'> & {
  madeAt: number;
};

/** Work that has ended so many servers is not tried on another one. */
const MOST_ATTEMPTS = 5;
const UNFINISHED: readonly JobState[] = ['waiting', 'working'];
/** Bytes of one row, and of one write. */
const BYTES_OF_ROW = 1 << 20;
const ROWS_AT_ONCE = 8;

/** @param now  in milliseconds */
export async function insertJob(
  rows: Rows,
  job: Pick<JobRow, 'id' | 'kind' | 'input' | 'client'>,
  state: 'arriving' | 'waiting',
  now: number,
): Promise<void> {
  await rows<JobRow>('job').insert({
    ...job,
    ...{
      state,
      attempt: 0,
      server: null,
      beat: 0,
      share: 0,
      is_stopped: 0,
      problem: null,
      made_at: now,
      ended_at: null,
    },
  });
}

/** Lets a job that was arriving wait for a server. @returns whether it was there */
export async function arrived(rows: Rows, id: string, input: string): Promise<boolean> {
  return (await rows<JobRow>('job').where({ id, state: 'arriving' }).update({ state: 'waiting', input })) > 0;
}

/** Jobs that wait or are worked on: of all, and of one client. */
export async function jobsInHand(rows: Rows, client: string): Promise<{ all: number; own: number }> {
  const clients = await rows<JobRow>('job').whereIn('state', UNFINISHED).pluck('client');
  return { all: clients.length, own: clients.filter((one) => one === client).length };
}

export async function listJobs(rows: Rows): Promise<JobAbout[]> {
  const found = await rows<JobRow>('job')
    .whereIn('state', UNFINISHED)
    .orderBy('made_at')
    .select('id', 'kind', 'client', 'state', 'share', 'attempt', 'server', 'made_at');
  return found.map(({ made_at: madeAt, ...job }) => ({ ...job, madeAt }));
}

/** How some jobs stand. One that is missing is not there any more. */
export async function coursesOf(rows: Rows, ids: readonly string[]): Promise<JobCourse[]> {
  const found = await rows<JobRow>('job')
    .whereIn('id', ids as string[])
    .select('id', 'state', 'share', 'attempt', 'problem');
  return found.map(({ problem, ...job }) => ({
    ...job,
    problem: problem === null ? null : (JSON.parse(problem) as Problem),
  }));
}

/**
 * Begins an attempt at a job.
 * @param server  by which the one that works on it is told
 * @returns undefined where the job is at an end, or gone, or has ended too many servers
 */
export async function takeJob(rows: Rows, id: string, server: string, now: number): Promise<TakenJob | undefined> {
  const found = await rows<JobRow>('job').where({ id }).whereIn('state', UNFINISHED).first();
  if (!found || found.is_stopped) return undefined;
  if (found.attempt === MOST_ATTEMPTS) {
    const problem = makeProblem(
      'internal-error',
      `${MOST_ATTEMPTS} servers ended in the middle of this work. It was given up.`,
    );
    await endJob(rows, found, { state: 'failed', problem }, now);
    return undefined;
  }
  const attempt = found.attempt + 1;
  await rows<JobRow>('job').where({ id }).update({ state: 'working', attempt, server, share: 0 }).increment('beat', 1);
  const { kind, input, client } = found;
  return { id, attempt, kind, input, client };
}

/** Tells that an attempt goes on. @returns whether it shall: nobody has stopped the job, or begun another attempt */
export async function noteBeat(rows: Rows, { id, attempt }: Attempt, share: number): Promise<boolean> {
  const own = { id, attempt, state: 'working' as const, is_stopped: 0 };
  return (await rows<JobRow>('job').where(own).update({ share }).increment('beat', 1)) > 0;
}

/** How an attempt ends: with its bytes, or a short answer that is kept with its end; with what went wrong; or because it was stopped. */
export type JobEnd = { state: 'done'; answer?: string } | { state: 'failed'; problem: Problem } | { state: 'stopped' };

/** Ends a job. @returns false where the attempt is not the last one: then nothing of it may be kept */
export async function endJob(rows: Rows, { id, attempt }: Attempt, end: JobEnd, now: number): Promise<boolean> {
  const problem = end.state === 'failed' ? JSON.stringify(end.problem) : null;
  const own = rows<JobRow>('job').where({ id, attempt, state: 'working' });
  if ((await own.update({ state: end.state, ended_at: now, problem })) === 0) return false;
  if (end.state === 'done' && end.answer !== undefined)
    await rows<BytesRow>('job_bytes').insert({ job_id: id, attempt, sequence: 0, data: Buffer.from(end.answer) });
  return true;
}

/** Stops a job: at once where it waits, else as soon as its server hears of it. @returns whether there was one */
export async function stopJob(rows: Rows, id: string, now: number): Promise<boolean> {
  const waiting = rows<JobRow>('job').where({ id }).whereIn('state', ['arriving', 'waiting']);
  if ((await waiting.update({ state: 'stopped', is_stopped: 1, ended_at: now })) > 0) return true;
  return (await rows<JobRow>('job').where({ id, state: 'working' }).update({ is_stopped: 1 })) > 0;
}

/** Jobs that wait or are worked on, with the count by which one sees that somebody does. */
export async function beatsOf(rows: Rows): Promise<Pick<JobRow, 'id' | 'beat' | 'state' | 'is_stopped'>[]> {
  return rows<JobRow>('job').whereIn('state', UNFINISHED).select('id', 'beat', 'state', 'is_stopped');
}

/** Takes a job from whoever has it, where its count has not gone on. @returns whether it was taken */
export async function takeFrom(rows: Rows, id: string, beat: number): Promise<boolean> {
  const still = rows<JobRow>('job').where({ id, beat }).whereIn('state', UNFINISHED);
  return (await still.increment('beat', 1)) > 0;
}

/** Ends a stopped job whose server has gone. */
export async function buryJob(rows: Rows, id: string, now: number): Promise<void> {
  await rows<JobRow>('job').where({ id, state: 'working' }).update({ state: 'stopped', ended_at: now });
}

/** Keeps bytes of an attempt: rows of a megabyte, a few with each write. */
export class JobBytesWriter {
  private sequence = 0;
  private waiting: Uint8Array[] = [];
  private bytes = 0;

  constructor(
    private readonly store: Store,
    private readonly of: Attempt,
  ) {}

  async add(bytes: Uint8Array): Promise<void> {
    this.waiting.push(bytes);
    this.bytes += bytes.length;
    if (this.bytes >= ROWS_AT_ONCE * BYTES_OF_ROW) await this.write();
  }

  /** @throws {Refusal} where the job has gone meanwhile */
  async write(): Promise<void> {
    const all = Buffer.concat(this.waiting);
    const first = this.sequence;
    [this.waiting, this.bytes] = [[], 0];
    const { id, attempt } = this.of;
    const parts: BytesRow[] = [];
    for (let at = 0; at < all.length; at += BYTES_OF_ROW)
      parts.push({
        job_id: id,
        attempt,
        sequence: first + parts.length,
        data: all.subarray(at, at + BYTES_OF_ROW),
      });
    this.sequence += parts.length;
    await this.store.write(async (rows) => {
      const own = rows<JobRow>('job').where({ id, attempt, is_stopped: 0 });
      // a file that is on its way for long is not swept away
      const isArriving = attempt === 0 ? { made_at: Date.now() } : {};
      if ((await own.update(isArriving).increment('beat', 1)) === 0)
        throw refuse('store-busy', 'The job was stopped, or another server took it over.');
      for (const part of parts) await rows<BytesRow>('job_bytes').insert(part);
    });
  }
}

/** The bytes of an attempt, a row at a time. */
export async function* jobBytes(store: Store, { id, attempt }: Attempt): AsyncGenerator<Uint8Array> {
  for (let sequence = 0; ; sequence++) {
    const row = await store.read((rows) =>
      rows<BytesRow>('job_bytes').where({ job_id: id, attempt, sequence }).first('data'),
    );
    if (!row) return;
    const { buffer, byteOffset, byteLength } = row.data;
    yield new Uint8Array(buffer, byteOffset, byteLength);
  }
}

/** Clears a job away with its bytes. */
export async function dropJob(rows: Rows, id: string): Promise<void> {
  await rows<BytesRow>('job_bytes').where({ job_id: id }).delete();
  await rows<JobRow>('job').where({ id }).delete();
}

/** Clears away jobs that ended before an instant, and such as began to arrive before it and never did. */
export async function sweepJobs(store: Store, before: number): Promise<void> {
  const ids: string[] = await store.read((rows) =>
    rows<JobRow>('job')
      .where('ended_at', '<', before)
      .orWhere((which) => void which.where('state', 'arriving').where('made_at', '<', before))
      .pluck('id'),
  );
  for (const id of ids) await store.write((rows) => dropJob(rows, id));
}
