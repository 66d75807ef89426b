import { BAR_FIELDS, makeCalendar, type Bars } from '@jaunty-ledger/core';
import { makeProblem, type Problem } from '$lib/api/problems';
import { fromArrow } from '$lib/arrow/table';
import { summarised } from '$lib/chart/summary';
import { Evaluation } from './evaluation';
import type { DrawnBars, FromWorker, ToWorker } from './protocol';

/* The browser's side of the core: bars come in here once, and formulas are evaluated on them away from the page. */

let evaluation: Evaluation | undefined;

self.onmessage = async ({ data: message }: MessageEvent<ToWorker>) => {
  const { job } = message;
  try {
    switch (message.kind) {
      case 'open':
        return await open(message);
      case 'evaluate': {
        const results = evaluation!.evaluate(message.entries);
        const buffers = results.flatMap((result) =>
          result.state === 'drawn'
            ? result.columns.flatMap(({ values, summary }) => [
                values.buffer,
                summary.least.buffer,
                summary.greatest.buffer,
              ])
            : [],
        );
        return say({ kind: 'evaluated', job, results }, buffers as ArrayBuffer[]);
      }
      default:
        message satisfies never;
    }
  } catch (error) {
    say({
      kind: 'failed',
      job,
      problem: makeProblem('internal-error', error instanceof Error ? error.message : String(error)),
    });
  }
};

function say(message: FromWorker, transfer: ArrayBuffer[] = []): void {
  self.postMessage(message, { transfer });
}

async function open({ job, tape, rule, calendar }: Extract<ToWorker, { kind: 'open' }>): Promise<void> {
  let response: Response;
  try {
    const query = new URLSearchParams({ rule });
    response = await fetch(`/api/tapes/${encodeURIComponent(tape)}/bars?${query}`, {
      headers: { accept: 'application/vnd.apache.arrow.stream' },
    });
  } catch {
    const problem = makeProblem(
      'internal-error',
      'The server does not answer. Is it still running? Load the page again once it is.',
    );
    return say({ kind: 'failed', job, problem });
  }
  if (!response.ok) return say({ kind: 'failed', job, problem: (await response.json()) as Problem });
  const { columns } = fromArrow(new Uint8Array(await response.arrayBuffer()));
  const bars = Object.fromEntries(
    [...BAR_FIELDS, 'complete'].map((field) => [field, columns[field]]),
  ) as unknown as Bars;
  const { time, end: _end, complete: _complete, ...rest } = bars;
  evaluation = new Evaluation({ time, columns: { ...rest }, calendar: makeCalendar(calendar) });
  const drawn: DrawnBars = {
    ...bars,
    rule,
    priceSummary: summarised(bars.low, bars.high),
    volumeSummary: summarised(bars.volume),
  };
  say({ kind: 'opened', job, bars: drawn });
}
