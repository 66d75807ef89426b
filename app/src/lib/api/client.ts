import { z } from 'zod';
import { Ledger, type LedgerChange, type NewLedger } from './ledgers';
import { makeProblem, Refusal, type Problem } from './problems';
import { Tape } from './tapes';

type Fetch = typeof fetch;

/** Asks the server. @throws {Refusal} with the server's own words, or that it does not answer */
async function ask(fetcher: Fetch, path: string, init?: RequestInit): Promise<Response> {
  let response: Response;
  try {
    response = await fetcher(path, init);
  } catch (cause) {
    if (cause instanceof DOMException && cause.name === 'AbortError') throw cause;
    throw new Refusal(makeProblem('internal-error', 'The server does not answer. Is it still running?'), { cause });
  }
  if (!response.ok) throw new Refusal((await response.json()) as Problem);
  return response;
}

const send = (method: string, body: unknown): RequestInit => ({
  method,
  body: JSON.stringify(body),
  headers: { 'content-type': 'application/json' },
});

export async function fetchTapes(fetcher: Fetch): Promise<Tape[]> {
  return z.array(Tape).parse(await (await ask(fetcher, '/api/tapes')).json());
}

export async function fetchLedgers(fetcher: Fetch): Promise<Ledger[]> {
  return z.array(Ledger).parse(await (await ask(fetcher, '/api/ledgers')).json());
}

export async function fetchLedger(fetcher: Fetch, id: string): Promise<Ledger> {
  return Ledger.parse(await (await ask(fetcher, `/api/ledgers/${encodeURIComponent(id)}`)).json());
}

export async function createLedger(fetcher: Fetch, ledger: NewLedger): Promise<Ledger> {
  return Ledger.parse(await (await ask(fetcher, '/api/ledgers', send('POST', ledger))).json());
}

export async function saveLedger(fetcher: Fetch, id: number, change: LedgerChange): Promise<Ledger> {
  return Ledger.parse(await (await ask(fetcher, `/api/ledgers/${id}`, send('PUT', change))).json());
}

/** Enters a file as a tape; `query` as of `POST /api/tapes`. */
export async function enterTape(
  fetcher: Fetch,
  file: File,
  query: Record<string, string>,
  signal: AbortSignal,
): Promise<Tape> {
  const search = new URLSearchParams({ ...query, file: file.name });
  const init: RequestInit = { method: 'POST', body: file, headers: { 'content-type': 'text/csv' }, signal };
  return Tape.parse(await (await ask(fetcher, `/api/tapes?${search}`, init)).json());
}

export async function deleteTape(fetcher: Fetch, name: string): Promise<void> {
  await ask(fetcher, `/api/tapes/${encodeURIComponent(name)}`, { method: 'DELETE' });
}
