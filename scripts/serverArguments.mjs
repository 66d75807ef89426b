import { readFileSync } from 'node:fs';

const { scripts } = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8'));

/**
 * What Node is called with where the server is started, as `npm start` does it. The flag is for files that come in: their
 * blocks count as memory of heaps of few objects, which would be swept for each dozen blocks, on further threads that the
 * import needs itself.
 */
export const SERVER_ARGUMENTS = scripts.start.split(' ').slice(1);
