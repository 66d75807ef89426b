import { z } from 'zod';

/** Whether a server runs, and whether it can do its work. */
export const Health = z.object({
  alive: z.literal(true),
  ready: z.boolean(),
  store: z.enum(['reached', 'being brought up to date', 'not reached']),
});
export type Health = z.infer<typeof Health>;
