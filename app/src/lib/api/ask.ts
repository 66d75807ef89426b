import { z } from 'zod';
import { makeProblem, Problem, Refusal } from './problems';
import { randomId } from './randomId';

export type Fetch = typeof fetch;

/** By this the server shares its work out fairly among pages. */
const CLIENT = randomId(16);

/** Asks the server. @throws {Refusal} with the server's own words, or that it does not answer */
export async function ask(fetcher: Fetch, path: string, init: RequestInit = {}): Promise<Response> {
  let response: Response;
  try {
    response = await fetcher(path, { ...init, headers: { ...init.headers, 'x-client': CLIENT } });
  } catch (cause) {
    if (cause instanceof DOMException && cause.name === 'AbortError') throw cause;
    throw new Refusal(
      makeProblem('internal-error', 'The server does not answer. Check that it is running, then reload the page.'),
      { cause },
    );
  }
  if (!response.ok) throw new Refusal(await problemIn(response));
  return response;
}

/** Lines of an answer that tells how far it is; see the server's long answers. */
export const LINES = 'application/x-ndjson';
const Line = z.union([
  z.object({ share: z.number() }),
  z.object({ answer: z.unknown() }),
  z.object({ problem: Problem }),
]);

/**
 * Asks for what may take long.
 * @param told  the share that is done, 0 to 1, now and then
 * @throws {Refusal} as `ask` does
 */
export async function askLong(
  fetcher: Fetch,
  path: string,
  init: RequestInit,
  told: (share: number) => void,
): Promise<unknown> {
  const response = await ask(fetcher, path, {
    ...init,
    headers: { ...init.headers, accept: `${LINES}, application/json` },
  });
  if (!response.headers.get('content-type')?.includes(LINES)) return response.json();
  for await (const text of linesOf(response)) {
    const line = Line.parse(JSON.parse(text));
    if ('share' in line) told(line.share);
    else if ('problem' in line) throw new Refusal(line.problem);
    else return line.answer;
  }
  throw brokenOff();
}

/** The lines of an answer as they come. */
export async function* linesOf(response: Response): AsyncGenerator<string> {
  let rest = '';
  const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
  for (let part = await reader.read(); !part.done; part = await reader.read()) {
    const lines = (rest + part.value).split('\n');
    rest = lines.pop()!;
    yield* lines;
  }
}

export const brokenOff = (): Refusal =>
  new Refusal(makeProblem('internal-error', 'The connection was lost before the answer was complete. Try again.'));

/** What a refusal says. A proxy in between may answer something of its own. */
async function problemIn(response: Response): Promise<Problem> {
  if (response.headers.get('content-type')?.includes('problem+json')) return (await response.json()) as Problem;
  return makeProblem('internal-error', `The server answered ${response.status}. Try again.`);
}

/**
 * A question whose answer is heard only if no other one is asked in its place: for an effect, which gives it up when it
 * runs anew.
 * @returns what gives the question up
 */
export function askLatest<Answer>(
  question: (fetcher: Fetch) => Promise<Answer>,
  take: (answer: Answer) => void,
  refused: (error: unknown) => void,
): () => void {
  const abort = new AbortController();
  const { signal } = abort;
  question((input, init) => fetch(input, { ...init, signal })).then(
    (answer) => void (signal.aborted || take(answer)),
    (error: unknown) => void (signal.aborted || refused(error)),
  );
  return () => abort.abort();
}
