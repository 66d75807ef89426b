import { workEndpoint } from '$lib/server/http/workEndpoint';
import { findTape } from '$lib/server/store/tapes';
import { COMPARISON } from '$lib/works/comparison/work';

/** Members of unknown tapes are refused one by one: the rest stands. */
export const POST = workEndpoint(COMPARISON, 'comparison', async (event, { members }) => {
  const names = [...new Set(members.map(({ tape }) => tape))];
  const found = await event.locals.store.read((rows) => Promise.all(names.map((name) => findTape(rows, name))));
  return { tapes: found.filter((tape) => tape !== undefined) };
});
