import { afterEach, expect, it, vi } from 'vitest';
import { healthOf } from '../operation/health';
import type { JobQueue } from '../store/jobQueue';
import { migrations } from '../store/migrations/migrations';
import type { Store } from '../store/store';
import { JobWorker } from './jobWorker';

afterEach(() => void vi.useRealTimers());

it('a worker whose queue does not answer is unhealthy after 30 s, and healthy once it answers', async () => {
  const known = (await migrations.getMigrations([])).length;
  const store = { read: () => Promise.resolve([{ known, id: '1', beat: 0 }]), hasRoom: true } as unknown as Store;
  let answer: (id: undefined) => void = () => undefined;
  const queue = { next: () => new Promise<undefined>((resolve) => (answer = resolve)) } as unknown as JobQueue;
  vi.useFakeTimers({ toFake: ['performance'] });
  const worker = new JobWorker(store, queue);

  vi.advanceTimersByTime(29_000);
  await expect(healthOf(store)).resolves.toMatchObject({ ready: true });
  vi.advanceTimersByTime(2000);
  await expect(healthOf(store)).rejects.toMatchObject({ problem: { status: 503 } });

  answer(undefined);
  await vi.waitFor(() => expect(healthOf(store)).resolves.toMatchObject({ ready: true }));
  const closed = worker.close();
  answer(undefined);
  await closed;
});
