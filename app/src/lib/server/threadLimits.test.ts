import { Worker } from 'node:worker_threads';
import { expect, it } from 'vitest';
import { Refusal } from '$lib/api/problems';
import { THREAD_LIMITS, threadFailure } from './threadLimits';

/** What a thread ends with that runs a program. */
const failureOf = (program: string, megabytes: number): Promise<unknown> =>
  new Promise((resolve) => {
    const { resourceLimits } = THREAD_LIMITS;
    const limits = { ...resourceLimits, maxOldGenerationSizeMb: megabytes };
    const worker = new Worker(program, { eval: true, resourceLimits: limits });
    worker.once('error', (error) => resolve(threadFailure(error)));
    worker.once('exit', resolve);
  });

it('a thread that needs more memory than its limit fails alone, with a problem that says so', async () => {
  expect(THREAD_LIMITS.resourceLimits.maxOldGenerationSizeMb).toBe(2048);
  const failure = await failureOf('const all = []; for (;;) all.push({ at: all.length });', 16);
  expect(failure).toBeInstanceOf(Refusal);
  expect((failure as Refusal).problem).toMatchObject({
    code: 'too-much-work',
    detail: expect.stringMatching(/more than 2,048 MB of memory\. Ask for a shorter range/) as string,
  });
});

it('another failure of a thread stays what it is', async () => {
  expect(await failureOf('throw new RangeError("a fault")', 16)).toBeInstanceOf(RangeError);
  expect(await failureOf('', 16)).toBe(0);
});
