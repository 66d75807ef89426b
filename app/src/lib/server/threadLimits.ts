import type { ResourceLimits } from 'node:worker_threads';
import { refuse, type Refusal } from '$lib/api/problems';
import { settings } from './settings';

/** Of every worker thread: one that needs more memory fails its own task, not the server. */
export const THREAD_LIMITS: { resourceLimits: ResourceLimits } = {
  resourceLimits: { maxOldGenerationSizeMb: settings.limits.threadMegabytes },
};

/** What a thread has failed with, as a refusal of its task where it ran out of memory. */
export const threadFailure = (error: unknown): unknown => (isOutOfMemory(error) ? outOfMemory() : error);

const isOutOfMemory = (error: unknown): boolean =>
  error instanceof Error && 'code' in error && error.code === 'ERR_WORKER_OUT_OF_MEMORY';

const outOfMemory = (): Refusal =>
  refuse(
    'too-much-work',
    `This needs more than ${settings.limits.threadMegabytes.toLocaleString('en')} MB of memory. Ask for a shorter range, or send a smaller file.`,
  );
