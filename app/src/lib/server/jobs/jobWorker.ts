import { hostname } from 'node:os';
import { setTimeout } from 'node:timers/promises';
import { parse } from 'devalue';
import { importFile } from '../imports/importFile';
import { beginImport } from '../imports/importsUnderWay';
import { problemOf } from '../http/problem';
import { log } from '../log';
import { noteJob } from '../operation/metrics';
import { settings } from '../settings';
import type { JobQueue } from '../store/jobQueue';
import {
  beatsOf,
  buryJob,
  endJob,
  jobBytes,
  JobBytesWriter,
  noteBeat,
  takeFrom,
  takeJob,
  type JobEnd,
  type TakenJob,
} from '../store/jobs';
import type { Store } from '../store/store';
import { SharedCourse, StoppedError } from '../tasks/course';
import type { TaskInput, TaskName } from '../tasks/kinds';
import { openLanes } from '../tasks/lanes';
import { IMPORT, type ImportInput } from './jobs';

/** By which a server is told from others. */
const SERVER = `${hostname()}:${settings.PORT}`;
/** Between two looks into a queue that was empty. */
const LOOKED_EVERY_MS = 100;
/** How often a worker tells that a job goes on, and hears whether it is stopped. */
const BEAT_MS = 500;
/** How often it looks for jobs whose server has gone. */
const SEARCHED_EVERY_MS = 2000;
/** Files that a worker enters at once. */
const MOST_IMPORTS = 2;

/** A worker whose loop has not turned for this time does no work, whatever else answers. */
const STUCK_AFTER_MS = 30_000;

let turnedAt: number | undefined;

/** Whether this server takes jobs from a queue and has stopped doing so. */
export const isWorkerStuck = (): boolean => turnedAt !== undefined && performance.now() - turnedAt > STUCK_AFTER_MS;

/** Takes jobs from the queue and does them, as many as there are threads free. */
export class JobWorker {
  private readonly closing = new AbortController();
  private readonly inHand = new Map<string, AbortController>();
  private readonly seen = new Map<string, { beat: number; at: number }>();
  private imports = 0;
  private readonly running: Promise<unknown>;

  constructor(
    private readonly store: Store,
    private readonly queue: JobQueue,
  ) {
    this.running = Promise.all([this.work(), this.search()]);
  }

  /** Ends what it has in hand and leaves it to others. */
  async close(): Promise<void> {
    this.closing.abort();
    for (const job of this.inHand.values()) job.abort();
    await this.running;
  }

  private readonly pause = (milliseconds: number) =>
    setTimeout(milliseconds, undefined, { signal: this.closing.signal, ref: false }).catch(() => undefined);

  private async work(): Promise<void> {
    const all = new Set<Promise<void>>();
    while (!this.closing.signal.aborted) {
      turnedAt = performance.now();
      const hasRoom = all.size - this.imports < openLanes().heavy.threads && this.imports < MOST_IMPORTS;
      const id = hasRoom && openLanes().heavy.isFree ? await this.nextJob() : undefined;
      if (id === undefined) {
        await this.pause(LOOKED_EVERY_MS);
        continue;
      }
      const job: Promise<void> = this.carryOut(id)
        // the store is away: it is found later that nobody works on the job
        .catch((error: unknown) => log.warn({ err: error, id }, 'a job was left'))
        .finally(() => all.delete(job));
      all.add(job);
      await this.pause(0);
    }
    await Promise.all(all);
  }

  /** The next job; none while the queue does not answer, which is asked again. */
  private async nextJob(): Promise<string | undefined> {
    try {
      return await this.queue.next();
    } catch (error) {
      log.warn({ err: error }, 'the queue of jobs does not answer');
      return undefined;
    }
  }

  private async carryOut(id: string): Promise<void> {
    const job = await this.store.write((rows) => takeJob(rows, id, SERVER, Date.now()));
    if (!job) return this.queue.forget(id);
    const gone = new AbortController();
    this.inHand.set(id, gone);
    const course = new SharedCourse();
    const beating = this.beat(job, course, gone);
    try {
      const end = await this.endOf(job, course, gone.signal);
      if (this.closing.signal.aborted && end.state === 'stopped') return await this.queue.again(id);
      // an import ends itself, with what it enters
      const isEnded = job.kind === IMPORT && end.state === 'done';
      if (!isEnded && !(await this.store.write((rows) => endJob(rows, job, end, Date.now())))) return;
      noteJob(job.kind, end.state);
      await this.queue.forget(id);
    } finally {
      this.inHand.delete(id);
      gone.abort();
      await beating;
    }
  }

  private async beat(job: TakenJob, course: SharedCourse, gone: AbortController): Promise<void> {
    while (!gone.signal.aborted) {
      await setTimeout(BEAT_MS, undefined, { signal: gone.signal }).catch(() => undefined);
      if (gone.signal.aborted) return;
      try {
        if (!(await this.store.write((rows) => noteBeat(rows, job, course.share)))) gone.abort();
      } catch (error) {
        log.warn({ err: error }, 'the progress of a job could not be noted');
      }
    }
  }

  private async endOf(job: TakenJob, course: SharedCourse, signal: AbortSignal): Promise<JobEnd> {
    try {
      if (job.kind === IMPORT) await this.enter(job, course, signal);
      else {
        const input = parse(job.input) as TaskInput<TaskName>;
        const { client } = job;
        const answer = await openLanes().heavy.run(job.kind as TaskName, input, { client, signal, course });
        const writer = new JobBytesWriter(this.store, job);
        await writer.add(answer!);
        await writer.write();
      }
      return { state: 'done' };
    } catch (error) {
      if (error instanceof StoppedError || signal.aborted) return { state: 'stopped' };
      return { state: 'failed', problem: problemOf(error) };
    }
  }

  private async enter(job: TakenJob, course: SharedCourse, signal: AbortSignal): Promise<void> {
    const { order, bytes, progressId } = parse(job.input) as ImportInput;
    const underWay = beginImport(this.store, progressId);
    this.imports++;
    try {
      const file = Object.assign(jobBytes(this.store, { id: job.id, attempt: 0 }), { abandon: () => undefined });
      await importFile(file, { ...order, job }, signal, (read, rows) => {
        underWay.reached(read, rows);
        course.share = bytes === 0 ? 0 : read / bytes;
      });
    } finally {
      this.imports--;
      await underWay.end();
    }
  }

  /** Finds the jobs whose server has gone: their count stands still by this server's own clock. */
  private async search(): Promise<void> {
    const patience = settings.JAUNTY_JOB_PATIENCE * 1000;
    while (!this.closing.signal.aborted) {
      await this.pause(SEARCHED_EVERY_MS);
      try {
        const found = await this.store.read(beatsOf);
        const now = performance.now();
        const known = new Set(found.map(({ id }) => id));
        for (const id of this.seen.keys()) if (!known.has(id)) this.seen.delete(id);
        for (const { id, beat, state, is_stopped } of found) {
          const before = this.seen.get(id);
          if (before?.beat !== beat) this.seen.set(id, { beat, at: now });
          else if (now - before.at > patience && !this.inHand.has(id)) {
            // one that waits is perhaps waiting; or its server went before it began
            if (state === 'waiting' && !(await this.queue.isOut(id))) continue;
            if (!(await this.store.write((rows) => takeFrom(rows, id, beat)))) continue;
            log.warn({ id }, 'a job whose server has gone is taken over');
            if (is_stopped) await this.store.write((rows) => buryJob(rows, id, Date.now()));
            else await this.queue.again(id);
          }
        }
      } catch (error) {
        log.warn({ err: error }, 'jobs that were left could not be looked for');
      }
    }
  }
}
