import { randomUUID } from 'node:crypto';
import { setMaxListeners } from 'node:events';
import { setTimeout } from 'node:timers/promises';
import { stringify } from 'devalue';
import { refuse, Refusal } from '$lib/api/problems';
import type { ImportOrder } from '../imports/importProtocol';
import { log } from '../log';
import { settings } from '../settings';
import type { JobQueue } from '../store/jobQueue';
import {
  arrived,
  coursesOf,
  dropJob,
  insertJob,
  jobBytes,
  JobBytesWriter,
  jobsInHand,
  stopJob,
  type JobCourse,
} from '../store/jobs';
import type { Rows, Store } from '../store/store';
import { SharedCourse, StoppedError } from '../tasks/course';
import type { TaskInput, TaskName } from '../tasks/kinds';
import type { TaskClient } from '../tasks/lane';

/*
 * Work that is handed to the servers that share a store, this one among them. Whoever hands it in waits for it, hears how far
 * it has come, and stops it by going away.
 */

/** How often it is asked how the jobs stand that are waited for: all at once. */
const ASKED_EVERY_MS = 60;

/** What an import needs beside its file, which is kept with the job. */
export interface ImportInput {
  order: ImportOrder;
  bytes: number;
  /** The number by which its page asks how far it is. */
  progressId?: string;
}

export const IMPORT = 'import';

/** A file on its way in. */
interface ArrivingFile {
  body: AsyncIterable<Uint8Array>;
  order: ImportOrder;
  progressId: string | undefined;
  /** Told the bytes that are kept so far. */
  kept: (bytes: number) => void;
  /** Told when the whole file is kept. */
  isKept: () => Promise<void>;
}

class Jobs {
  private readonly awaited = new Map<string, (course: JobCourse | undefined) => void>();
  private isAsking = false;
  private arriving = 0;
  /** Jobs of each client that this server has put in and waits for. */
  private readonly inHand = new Map<string, number>();

  constructor(
    readonly store: Store,
    private readonly queue: JobQueue,
  ) {}

  /**
   * Has a task done by whichever server is free first.
   * @throws {Refusal} where it is refused, or too much waits
   * @throws {StoppedError} where its client has gone
   */
  async run<Name extends TaskName>(kind: Name, input: TaskInput<Name>, who: TaskClient): Promise<Uint8Array> {
    const id = randomUUID();
    const job = { id, kind, input: stringify(input), client: who.client };
    return this.handOver(id, who, (rows) => insertJob(rows, job, 'waiting', Date.now()));
  }

  /**
   * Keeps a file with the store, then has it entered by whichever server is free first.
   * @returns names of its tapes
   * @throws as `run`, and what the body throws: nothing is entered then
   */
  async enter({ body, order, progressId, kept, isKept }: ArrivingFile, who: TaskClient): Promise<string[]> {
    const id = randomUUID();
    const { imports } = settings.limits;
    if (this.arriving >= imports)
      throw refuse('too-busy', `${imports} files are being entered. Try again when some of them are in.`);
    this.arriving++;
    let input: ImportInput;
    try {
      const job = { id, kind: IMPORT, input: '', client: who.client };
      await this.store.write((rows) => insertJob(rows, job, 'arriving', Date.now()));
      const writer = new JobBytesWriter(this.store, { id, attempt: 0 });
      let bytes = 0;
      for await (const block of body) {
        if (who.signal?.aborted) throw new StoppedError();
        bytes += block.length;
        await writer.add(Uint8Array.from(block)); // the sender may use its memory anew
        kept(bytes);
      }
      await writer.write();
      await isKept();
      input = { order, bytes, progressId };
    } catch (error) {
      this.drop(id);
      if (error instanceof Refusal || error instanceof StoppedError) throw error;
      throw refuse(
        'broken-body',
        'The file broke off before its end. Nothing was entered; send it again.',
        {},
        { cause: error },
      );
    } finally {
      this.arriving--;
    }
    const names = await this.handOver(id, who, async (rows) => {
      if (!(await arrived(rows, id, stringify(input)))) throw new StoppedError();
    });
    return JSON.parse(new TextDecoder().decode(names)) as string[];
  }

  /**
   * Puts a job into the queue, behind as many others as its client has there, so that all clients come to their turn; and waits
   * for its answer.
   * @param made  makes its row ready, within the same write
   */
  private async handOver(id: string, who: TaskClient, made: (rows: Rows) => Promise<void>): Promise<Uint8Array> {
    const { client } = who;
    const before = this.inHand.get(client) ?? 0;
    // those that are about to be put in are not among the jobs yet
    const here = [...this.inHand.values()].reduce((sum, count) => sum + count, 0);
    this.inHand.set(client, before + 1);
    try {
      const { all, own } = await this.store.read((rows) => jobsInHand(rows, client));
      if (Math.max(all, here) >= settings.limits.waiting)
        throw refuse('too-busy', 'Too many requests wait for their turn. Try again in a moment.');
      await this.store.write(async (rows) => {
        await made(rows);
        await this.queue.put(rows, id, -Math.max(own, before));
      });
      return await this.outcome(id, who);
    } finally {
      const rest = this.inHand.get(client)! - 1;
      if (rest > 0) this.inHand.set(client, rest);
      else this.inHand.delete(client);
      this.drop(id);
    }
  }

  private async outcome(id: string, { signal, course = new SharedCourse() }: TaskClient): Promise<Uint8Array> {
    const stop = () => void this.stop(id);
    if (signal) setMaxListeners(0, signal); // a request may wait for many jobs at once
    if (signal?.aborted) stop();
    signal?.addEventListener('abort', stop, { once: true });
    try {
      const end = await this.ended(id, course);
      switch (end?.state) {
        case 'done': {
          const parts: Uint8Array[] = [];
          for await (const part of jobBytes(this.store, end)) parts.push(part);
          return Buffer.concat(parts);
        }
        case 'failed':
          throw new Refusal(end.problem!);
        case 'stopped':
          if (signal?.aborted) throw new StoppedError();
          throw refuse('work-stopped', 'The job was stopped by another user. Start it again if you need it.');
        default:
          throw refuse('store-busy', 'The work was lost. Ask again.');
      }
    } finally {
      signal?.removeEventListener('abort', stop);
    }
  }

  /** Waits for the end of a job. @returns how it ended; undefined where it is gone */
  private ended(id: string, course: SharedCourse): Promise<JobCourse | undefined> {
    return new Promise((done) => {
      this.awaited.set(id, (found) => {
        if (found) course.share = found.share;
        if (found?.state === 'waiting' || found?.state === 'working') return;
        this.awaited.delete(id);
        done(found);
      });
      if (!this.isAsking) void this.ask();
    });
  }

  private async ask(): Promise<void> {
    this.isAsking = true;
    while (this.awaited.size > 0) {
      await setTimeout(ASKED_EVERY_MS);
      try {
        const ids = [...this.awaited.keys()];
        const found = await this.store.read((rows) => coursesOf(rows, ids));
        const byId = new Map(found.map((course) => [course.id, course]));
        for (const id of ids) this.awaited.get(id)?.(byId.get(id));
      } catch (error) {
        // the jobs go on without us, and so does the asking once the store is back
        log.warn({ err: error }, 'it could not be asked how jobs stand');
      }
    }
    this.isAsking = false;
  }

  private async stop(id: string): Promise<void> {
    try {
      await this.store.write((rows) => stopJob(rows, id, Date.now()));
    } catch (error) {
      log.warn({ err: error }, 'a job could not be stopped');
    }
  }

  /** Clears a job away; what stays is swept later. */
  private drop(id: string): void {
    this.queue
      .forget(id)
      .then(() => this.store.write((rows) => dropJob(rows, id)))
      .catch((error: unknown) => log.warn({ err: error }, 'a job could not be cleared away'));
  }
}

let shared: Jobs | undefined;

/** The jobs of the servers that share the store; none where this server has it alone. */
export const jobs = (): Jobs | undefined => shared;

export function openJobs(store: Store, queue: JobQueue): void {
  shared = new Jobs(store, queue);
}
