import { inject } from 'vitest';

/* Where the tests of this worker run. */

const all = inject('served');
export const { origin, folders } = all[(Number(process.env.VITEST_POOL_ID) - 1) % all.length];
