import { fileURLToPath } from 'node:url';

const at = (path) => fileURLToPath(new URL(`../${path}`, import.meta.url));

/** The project's own packages by their sources, for bundlers and tests: neither waits until they are compiled. */
export const sourceAliases = {
  '@jaunty-ledger/core': at('core/src/index.ts'),
  '@jaunty-ledger/demo': at('demo/src/index.ts'),
  '@jaunty-ledger/files': at('files/src'),
};
