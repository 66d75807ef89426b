import { z } from 'zod';

/** Work that waits for a server, or is worked on. */
export const Job = z.object({
  id: z.string(),
  kind: z.string().describe('`import`, or the kind of work'),
  client: z.string().describe('Who asked for it'),
  state: z.enum(['waiting', 'working']),
  attempt: z.number().int().describe('Counts the servers that have begun it'),
  server: z.string().nullable().describe('The one that works on it, or did last'),
  share: z.number().describe('Of it that is done, 0 to 1'),
  madeAt: z.string(),
});
export type Job = z.infer<typeof Job>;
