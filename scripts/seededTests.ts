import fc from 'fast-check';

/* Properties are tried with the same values in each run of `npm test`; `npm run test:deep` takes others each time. */

const isDeep = process.env.TEST_DEEP !== undefined;
if (!isDeep) fc.configureGlobal({ seed: 20_261_201 });
