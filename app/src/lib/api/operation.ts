import { z } from 'zod';

/** Health of the server: it runs and can do its work. */
export const Health = z.object({
  alive: z.literal(true),
  ready: z.literal(true),
  /** False since a write found no room: reads go on. */
  writes: z.boolean(),
});
export type Health = z.infer<typeof Health>;

/** Of a process that answers. */
export const Liveness = z.object({ alive: z.literal(true) });
