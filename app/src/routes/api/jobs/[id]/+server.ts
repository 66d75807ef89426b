import { refuse } from '$lib/api/problems';
import { mayStop } from '$lib/server/auth/sharing';
import { endpoint } from '$lib/server/http/endpoint';
import { logged } from '$lib/server/log';
import { listJobs, stopJob } from '$lib/server/store/jobs';

export const DELETE = endpoint(
  {
    says: 'Cancels a queued or running job of your own; any job for the administrator. Its partial result is discarded.',
    refuses: ['unknown-job'],
    writes: true,
  },
  async ({ event }) => {
    const id = event.params.id!;
    const isStopped = await event.locals.store.write(async (rows) => {
      const job = (await listJobs(rows)).find((one) => one.id === id);
      return job !== undefined && mayStop(event, job.client) && stopJob(rows, id, Date.now());
    });
    if (!isStopped) throw refuse('unknown-job', 'No such work of yours waits or is worked on.');
    logged(event, 'stopped', { job: id });
  },
);
