import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));

/** The server's worker threads and the maker of the demo world: programs of their own, so built by themselves. */
export default defineConfig({
  resolve: { alias: { $lib: at('src/lib') } },
  ssr: {
    external: ['better-sqlite3', 'knex', 'piscina', 'pino'],
    noExternal: [/^@jaunty-ledger/, /chevrotain/, 'lodash-es', 'temporal-polyfill', 'fft.js', 'zod', 'csv-parse'],
  },
  build: {
    ssr: true,
    outDir: 'build-jobs',
    emptyOutDir: true,
    target: 'node20',
    minify: false,
    rollupOptions: {
      input: {
        importJob: at('src/lib/server/jobs/importJob.ts'),
        computeJob: at('src/lib/server/jobs/computeJob.ts'),
        hurstJob: at('src/lib/server/jobs/hurstJob.ts'),
        measureDecode: at('src/lib/server/jobs/measureDecode.ts'),
        makeDemo: at('src/lib/server/jobs/makeDemo.ts'),
      },
      output: { entryFileNames: '[name].js', chunkFileNames: 'parts/[name]-[hash].js', format: 'es' },
    },
  },
});
