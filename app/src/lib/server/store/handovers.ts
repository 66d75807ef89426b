import { HandoverBody, HandoverSummary, summaryOf, tapesOf, type Block } from '$lib/api/handovers';
import { Documents, isSameTape } from './documents';
import type { Rows } from './store';

/** Pages that are handed over. What they ask of a tape follows its name; what they say of it stays as it was. */
export const handovers = new Documents<HandoverBody>(
  'handover',
  (body) => HandoverBody.parse(body),
  (body) => tapesOf(body)[0] ?? '',
  (body, from, to) => {
    if (!tapesOf(body).some((tape) => isSameTape(tape, from))) return undefined;
    return { ...body, blocks: body.blocks.map((block) => renamed(block, from, to)) };
  },
  summaryOf,
);

/** All pages as a list tells them, the one saved last first. */
export const listHandovers = async (rows: Rows): Promise<HandoverSummary[]> =>
  (await handovers.summaries(rows)).map(({ summary, ...page }) =>
    HandoverSummary.parse({ ...page, ...(summary as object) }),
  );

function renamed(block: Block, from: string, to: string): Block {
  if (!('setting' in block) || !block.setting || !isSameTape(block.setting.tape, from)) return block;
  return { ...block, setting: { ...block.setting, tape: to } } as Block;
}
