import type { z } from 'zod';
import { askLong, type Fetch } from '$lib/api/ask';
import type { Work } from './work';

/**
 * Asks the server.
 * @param onProgress  the share that is done, 0 to 1, now and then, where it takes long
 * @throws {Refusal} with the server's own words, or that it does not answer
 */
export async function call<Body extends z.ZodType, Answer extends z.ZodType>(
  { path, answer }: Work<Body, Answer>,
  body: z.input<Body>,
  { fetcher = fetch, onProgress = () => undefined }: { fetcher?: Fetch; onProgress?: (share: number) => void } = {},
): Promise<z.infer<Answer>> {
  const init = { method: 'POST', body: JSON.stringify(body), headers: { 'content-type': 'application/json' } };
  return answer.parse(await askLong(fetcher, path, init, onProgress));
}
