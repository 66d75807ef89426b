import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';
const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));
export default defineConfig({
  resolve: { alias: { $lib: at('src/lib') } },
  ssr: {
    external: ['better-sqlite3', 'knex'],
    noExternal: [/^@jaunty/, /chevrotain/, 'lodash-es', 'temporal-polyfill', 'zod', 'csv-parse'],
  },
  build: {
    ssr: true,
    outDir: '/tmp/profbuild',
    emptyOutDir: true,
    target: 'node20',
    minify: false,
    rollupOptions: { input: { prof: '/work/main/app/src/prof.ts' }, output: { entryFileNames: '[name].mjs' } },
  },
});
