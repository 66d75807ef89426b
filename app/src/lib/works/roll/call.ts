import { z } from 'zod';
import { ask, brokenOff, LINES, linesOf, type Fetch } from '$lib/api/ask';
import { Problem, Refusal } from '$lib/api/problems';
import { RollRow, type RollBody } from './work';

const RollLine = z.union([
  z.object({ rows: z.array(RollRow), share: z.number() }),
  z.object({ done: z.literal(true) }),
  z.object({ problem: Problem }),
]);

/** @param onRows  rows as they come, and the share that is done @throws {Refusal} where it is refused or broken off */
export async function callRoll(
  fetcher: Fetch,
  body: z.input<typeof RollBody>,
  onRows: (rows: RollRow[], share: number) => void,
): Promise<void> {
  const headers = { 'content-type': 'application/json', accept: LINES };
  const response = await ask(fetcher, '/api/rolls', { method: 'POST', body: JSON.stringify(body), headers });
  for await (const text of linesOf(response)) {
    const line = RollLine.parse(JSON.parse(text));
    if ('problem' in line) throw new Refusal(line.problem);
    if ('done' in line) return;
    onRows(line.rows, line.share);
  }
  throw brokenOff();
}
