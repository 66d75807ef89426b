import { z } from 'zod';

/** The body of `POST /api/readings`: the beginning of a file and its end, in base 64, and what was chosen already. */
export const ReadingBody = z.strictObject({
  head: z.string().max(8 << 20),
  /** Empty where the head is the whole file, and for packed files. */
  tail: z.string().max(1 << 20),
  choices: z.record(z.string(), z.string()),
  zone: z.string(),
  session: z.string().optional(),
  weekdays: z.string().optional(),
  closed: z.string().optional(),
});

/** The body of `POST /api/profiles`. */
export const ProfileBody = z.strictObject({
  name: z.string().min(1).max(60),
  shape: z.string().max(4000),
  choices: z.record(z.string(), z.string()),
});
