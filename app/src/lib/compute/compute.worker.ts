import { BAR_FIELDS, makeCalendar, type Bars } from '@jaunty-ledger/core';
import { makeProblem, Refusal, type Problem } from '$lib/api/problems';
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
    const problem =
      error instanceof Refusal
        ? error.problem
        : makeProblem('internal-error', error instanceof Error ? error.message : String(error));
    say({ kind: 'failed', job, problem });
  }
};

function say(message: FromWorker, transfer: ArrayBuffer[] = []): void {
  self.postMessage(message, { transfer });
}

const ARROW = { headers: { accept: 'application/vnd.apache.arrow.stream' } };

/** Flagged records that are marked in the chart; more would be a blot. */
const MARKED_RECORDS = 2000;

async function open({ job, tape, rule, flagged, calendar }: Extract<ToWorker, { kind: 'open' }>): Promise<void> {
  const path = `/api/tapes/${encodeURIComponent(tape)}`;
  const { columns } = await table(
    `${path}/bars?${new URLSearchParams({ rule, flagged: flagged.shown ? 'yes' : 'no' })}`,
  );
  const marked = flagged.count > 0 ? (await table(`${path}/records?flagged=only&limit=${MARKED_RECORDS}`)).columns : {};
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
    flaggedTime: (marked.time as Float64Array | undefined) ?? new Float64Array(0),
    flaggedPrice: ((marked.price ?? marked.close ?? marked.bid) as Float64Array | undefined) ?? new Float64Array(0),
  };
  say({ kind: 'opened', job, bars: drawn });
}

/** @throws {Refusal} with the server's own words, or that it does not answer */
async function table(path: string) {
  let response: Response;
  try {
    response = await fetch(path, ARROW);
  } catch (cause) {
    throw new Refusal(
      makeProblem('internal-error', 'The server does not answer. Is it still running? Load the page again once it is.'),
      { cause },
    );
  }
  if (!response.ok) throw new Refusal((await response.json()) as Problem);
  return fromArrow(new Uint8Array(await response.arrayBuffer()));
}
