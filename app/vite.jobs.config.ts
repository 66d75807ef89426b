import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';
import { sourceAliases } from '../scripts/sourceAliases.mjs';

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));

/** The server's worker threads, and what stands before the framework: programs of their own, so built by themselves. */
export default defineConfig({
  resolve: { alias: { ...sourceAliases, $lib: at('src/lib') } },
  ssr: {
    external: ['@photostructure/sqlite', 'knex', 'piscina', 'pino', 'ws'],
    noExternal: true,
  },
  build: {
    ssr: true,
    outDir: 'build-jobs',
    emptyOutDir: true,
    target: 'node20',
    minify: false,
    rollupOptions: {
      input: {
        serve: at('src/lib/server/serve.ts'),
        demo: at('src/lib/server/makeDemoFirst.ts'),
        keep: at('src/lib/server/keeping/keep.ts'),
        liveThread: at('src/lib/server/live/liveThread.ts'),
        importThread: at('src/lib/server/imports/importThread.ts'),
        taskThread: at('src/lib/server/tasks/taskThread.ts'),
        helperThread: at('src/lib/server/tasks/helperThread.ts'),
        measureDecode: at('src/lib/server/chunks/measureDecode.ts'),
      },
      output: { entryFileNames: '[name].js', chunkFileNames: 'parts/[name]-[hash].js', format: 'es' },
    },
  },
});
