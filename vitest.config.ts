import { defineConfig } from 'vitest/config';
import { fileURLToPath } from 'node:url';
import { sourceAliases } from './scripts/sourceAliases.mjs';

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));
const alias = { ...sourceAliases, $lib: at('app/src/lib') };

/** Tests of modules that keep nothing between them: to load all anew for each file takes as long as the tests themselves. */
const together = { isolate: false, unstubGlobals: true };
/** Only what hangs is ended: these tests have what servers and browsers leave of the processors. */
const patient = { testTimeout: 300_000, hookTimeout: 300_000 };
const seeded = { setupFiles: ['scripts/seededTests.ts'] };

const endToEnd = {
  setupFiles: ['e2e/description.ts'],
  // what takes a second alone takes many on a machine that others use too; a failure is not found sooner by less patience
  testTimeout: 180_000,
  hookTimeout: 180_000,
  // files that run beside each other have a server each
  fileParallelism: Number(process.env.E2E_WORKERS ?? 1) > 1,
};

export default defineConfig({
  resolve: { alias },
  test: {
    projects: [
      {
        resolve: { alias },
        test: {
          ...together,
          ...patient,
          ...seeded,
          name: 'core',
          include: ['core/**/*.test.ts'],
          exclude: ['**/dist/**', '**/node_modules/**'],
        },
      },
      {
        resolve: { alias },
        test: {
          ...together,
          ...patient,
          ...seeded,
          name: 'files',
          include: ['files/**/*.test.ts'],
          exclude: ['**/dist/**', '**/node_modules/**'],
        },
      },
      {
        resolve: { alias },
        test: {
          ...together,
          ...patient,
          ...seeded,
          name: 'app',
          include: ['app/src/**/*.test.ts', 'demo/test/**/*.test.ts'],
          globalSetup: ['e2e/databaseServer.ts'],
          // style sheets that a document takes in as they are
          css: { include: [/\.css\?raw$/] },
        },
      },
      { test: { ...patient, ...seeded, name: 'cli', include: ['cli/test/**/*.test.ts'] } },
      {
        test: {
          ...endToEnd,
          name: 'e2e',
          include: ['e2e/*.test.ts'],
          globalSetup: ['e2e/databaseServer.ts', 'e2e/browser.ts', 'e2e/servedApp.ts'],
        },
      },
      // whose tests start servers of their own
      {
        test: {
          ...endToEnd,
          name: 'servers',
          include: ['e2e/servers/*.test.ts'],
          globalSetup: ['e2e/databaseServer.ts', 'e2e/browser.ts'],
        },
      },
    ],
  },
});
