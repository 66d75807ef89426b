import { join, resolve } from 'node:path';
import { Piscina } from 'piscina';
import { Refusal } from '$lib/api/problems';
import { settings } from '../settings';
import type { ComputeResult, ComputeTask } from './computeProtocol';

let threads: Piscina | undefined;

/** Two threads: one long evaluation does not keep a page waiting for its bars. The first starts with the server. */
export function pool(): Piscina {
  threads ??= new Piscina({
    filename: join(resolve(settings.JAUNTY_JOBS), 'computeJob.js'),
    minThreads: 1,
    maxThreads: 2,
    idleTimeout: Infinity,
  });
  return threads;
}

/** Bytes of the last answers that are bars, by what was asked: pages ask for the same again and again. */
const answers = new Map<string, Uint8Array>();
const KEPT_BYTES = 64 << 20;
let keptBytes = 0;

/** Ends the threads, so that the server can end. */
export async function closePool(): Promise<void> {
  await threads?.destroy();
}

/** @throws {Refusal} where the task is refused */
export async function compute(task: ComputeTask, signal?: AbortSignal): Promise<Uint8Array> {
  const key =
    task.kind === 'bars'
      ? JSON.stringify([task.tape.id, task.tape.version, task.rule, task.flagged, task.range, task.format])
      : undefined;
  const known = key && answers.get(key);
  if (known) return known;
  const result = (await pool().run(task, { signal })) as ComputeResult;
  if ('problem' in result) throw new Refusal(result.problem);
  if (key) keep(key, result.body);
  return result.body;
}

function keep(key: string, body: Uint8Array): void {
  if (body.length > KEPT_BYTES / 2) return;
  answers.set(key, body);
  keptBytes += body.length;
  for (const [oldest, { length }] of answers) {
    if (keptBytes <= KEPT_BYTES) break;
    answers.delete(oldest);
    keptBytes -= length;
  }
}
