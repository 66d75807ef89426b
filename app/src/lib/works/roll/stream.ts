import { availableParallelism } from 'node:os';
import { LINES } from '$lib/api/ask';
import { Refusal } from '$lib/api/problems';
import type { RollRow } from './work';
import { jobs } from '$lib/server/jobs/jobs';
import type { TaskClient } from '$lib/server/tasks/lane';
import type { RollPartInput } from './run';
import { runTask } from '$lib/server/tasks/runTask';
import type { StoredTape } from '$lib/server/store/tapeRows';
import { problemOf } from '$lib/server/http/problem';

/** Records of the tapes that are rolled together, and tapes: what takes some tens of milliseconds. */
const TOGETHER = { records: 24_000, tapes: 24 };
/** Parts that are handed out at once, where other servers may do them. */
const PARTS_ELSEWHERE = 8;
/** Such a part may be so much larger, where there are enough of them: to hand it over takes some tens of milliseconds too. */
const LARGER_ELSEWHERE = 10;

function togetherElsewhere(tapes: readonly StoredTape[]): typeof TOGETHER {
  const share = tapes.reduce((sum, { rows }) => sum + rows, 0) / PARTS_ELSEWHERE;
  const times = Math.min(LARGER_ELSEWHERE, Math.max(1, share / TOGETHER.records));
  return { records: times * TOGETHER.records, tapes: Math.ceil(times * TOGETHER.tapes) };
}

/** So many parts have one tape each, the next as many two, then four and so on: the first rows come soon, however long a tape takes. */
const PARTS_OF_ONE_SIZE = 2;

/** Tapes in parts that are worked out one after the other, none of them long. */
function partsOf(tapes: readonly StoredTape[], together: typeof TOGETHER): StoredTape[][] {
  const parts: StoredTape[][] = [];
  let [part, records]: [StoredTape[], number] = [[], 0];
  for (const tape of tapes) {
    const most = Math.min(together.tapes, 2 ** Math.floor(parts.length / PARTS_OF_ONE_SIZE));
    if (part.length > 0 && (records + tape.rows > together.records || part.length >= most)) {
      parts.push(part);
      [part, records] = [[], 0];
    }
    part.push(tape);
    records += tape.rows;
  }
  return part.length > 0 ? [...parts, part] : parts;
}

/** The rows of a part; where it takes too long, that is told of its tapes, and the others are gone on with. */
async function rowsOf(tapes: StoredTape[], choices: Omit<RollPartInput, 'tapes'>, who: TaskClient): Promise<RollRow[]> {
  try {
    const body = await runTask('rollPart', { ...choices, tapes }, who);
    return JSON.parse(new TextDecoder().decode(body)) as RollRow[];
  } catch (error) {
    if (!(error instanceof Refusal && error.problem.code === 'too-much-work')) throw error;
    const refused = error.problem.detail;
    return tapes.map(({ name, version }) => ({
      ...{ tape: name, version, rule: choices.rule, bars: 0, at: null, values: [], refused },
    }));
  }
}

/** Does the parts on as many threads as there are processors, or servers, and tells the rows of each as it is done. */
async function roll(
  tapes: readonly StoredTape[],
  choices: Omit<RollPartInput, 'tapes'>,
  who: TaskClient,
  told: (rows: RollRow[]) => void,
): Promise<void> {
  const isShared = jobs() !== undefined;
  const waiting = partsOf(tapes, isShared ? togetherElsewhere(tapes) : TOGETHER);
  const failed = new AbortController();
  const signal = who.signal ? AbortSignal.any([who.signal, failed.signal]) : failed.signal;
  const worker = async () => {
    for (let part = waiting.shift(); part; part = waiting.shift()) {
      told(await rowsOf(part, choices, { ...who, signal }));
    }
  };
  try {
    const atOnce = isShared ? PARTS_ELSEWHERE : Math.max(2, availableParallelism());
    await Promise.all(Array.from({ length: atOnce }, worker));
  } catch (error) {
    failed.abort(); // the other threads stop too
    throw error;
  }
}

/**
 * The rows of a roll. A client that accepts lines of JSON is given each as it comes, `{"rows": [...], "share": 0.4}`, at last
 * `{"done": true}`, or what went wrong, `{"problem": ...}`; another one all together. Where the client goes, it stops.
 */
export async function rollAnswer(
  request: Request,
  who: TaskClient,
  tapes: readonly StoredTape[],
  choices: Omit<RollPartInput, 'tapes'>,
): Promise<Response> {
  if (!request.headers.get('accept')?.includes(LINES)) {
    const rows: RollRow[] = [];
    await roll(tapes, choices, who, (some) => rows.push(...some));
    const placeOf = new Map(tapes.map(({ name }, at) => [name, at]));
    rows.sort((a, b) => placeOf.get(a.tape)! - placeOf.get(b.tape)!);
    return Response.json({ rows });
  }
  const left = new AbortController();
  const signal = who.signal ? AbortSignal.any([who.signal, left.signal]) : left.signal;
  const encoder = new TextEncoder();
  const stream = new ReadableStream<Uint8Array>({
    start(lines) {
      const line = (text: string) => void (left.signal.aborted || lines.enqueue(encoder.encode(`${text}\n`)));
      let done = 0;
      roll(tapes, choices, { ...who, signal }, (rows) => {
        done += rows.length;
        line(JSON.stringify({ rows, share: done / tapes.length }));
      })
        .then(() => line(JSON.stringify({ done: true })))
        .catch((error: unknown) => line(JSON.stringify({ problem: problemOf(error) })))
        .finally(() => left.signal.aborted || lines.close());
    },
    cancel: () => left.abort(),
  });
  return new Response(stream, { headers: { 'content-type': LINES } });
}
