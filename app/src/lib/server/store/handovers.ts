import { HandoverBody, HandoverSummary, summaryOf, tapesOf, type Block } from '$lib/api/handovers';
import { Documents, isSameTape } from './documents';
import type { ListPage, ListRange } from './listPages';
import type { Rows, Wanted } from './store';

/** Pages that are handed over. What they ask of a tape follows its name; what they say of it stays as it was. */
export const handovers = new Documents<HandoverBody>({
  table: 'handover',
  read: (body) => HandoverBody.parse(body),
  tapeOf: (body) => tapesOf(body)[0] ?? '',
  following: {
    renamed: (body, from, to) => {
      if (!tapesOf(body).some((tape) => isSameTape(tape, from))) return undefined;
      return { ...body, blocks: body.blocks.map((block) => renamed(block, from, to)) };
    },
  },
  summaryOf,
});

/** A stretch of the pages as a list tells them, the one saved last first. */
export async function listHandovers(rows: Rows, range: ListRange, wanted?: Wanted): Promise<ListPage<HandoverSummary>> {
  const page = await handovers.summaries(rows, range, wanted);
  const items = page.items.map(({ summary, ...one }) => HandoverSummary.parse({ ...one, ...(summary as object) }));
  return { ...page, items };
}

function renamed(block: Block, from: string, to: string): Block {
  if (!('setting' in block) || !block.setting || !isSameTape(block.setting.tape, from)) return block;
  return { ...block, setting: { ...block.setting, tape: to } } as Block;
}
