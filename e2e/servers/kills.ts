/** How often each test of kills kills a process: two rounds in `npm test`, thirty in `npm run test:deep`. */
export const KILLS = Number(process.env.KILLS ?? 2);
