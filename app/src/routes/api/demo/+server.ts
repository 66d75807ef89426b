import { endpoint } from '$lib/server/http/endpoint';
import { logged } from '$lib/server/log';
import { runTask } from '$lib/server/tasks/runTask';

export const POST = endpoint(
  {
    says: 'Makes the Tarn Harbour Exchange, a made-up market of six instruments, where the shelf is empty.',
    refuses: ['name-taken'],
    writes: true,
  },
  async ({ event, client, signal }) => {
    await runTask('demo', {}, { client, signal });
    logged(event, 'made the demo world', {});
  },
);
