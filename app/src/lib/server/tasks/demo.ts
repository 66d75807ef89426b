import { refuse } from '$lib/api/problems';
import { makeDemo } from '../makeDemo';
import type { TaskKind } from './taskKind';

/** Makes the demo world on a shelf that is empty. */
export const demo: TaskKind<object> = {
  records: () => 5_000_000,
  writes: true,
  run: async (_, { store }) => {
    if (!(await makeDemo(store, () => undefined)))
      throw refuse('name-taken', 'There are tapes already. The demo world is only made where there are none.');
    return new Uint8Array(0);
  },
};
