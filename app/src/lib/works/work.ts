import type { z } from 'zod';

/**
 * A question to the server, described once: its route, its operation in OpenAPI and its call are made of this. What does the
 * work is `run.ts` beside it; what a page adds to the body for its own sake is in the body of the page.
 */
export interface Work<Body extends z.ZodType = z.ZodType, Answer extends z.ZodType = z.ZodType> {
  /** Where it is asked, by POST. */
  path: `/api/${string}`;
  /** What it answers, in a sentence of OpenAPI. */
  says: string;
  /** What may be asked, with its defaults: the only list of its fields. */
  body: Body;
  answer: Answer;
}

/** A work, with the types of its schemas. */
export const work = <Body extends z.ZodType, Answer extends z.ZodType>(
  described: Work<Body, Answer>,
): Work<Body, Answer> => described;
