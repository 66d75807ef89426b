import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig, type Plugin } from 'vite';
import { sourceAliases } from '../scripts/sourceAliases.mjs';
import { ANSWER_HEADERS } from './src/lib/server/http/headers.ts';

/** Leaves the workers of browsers out of the server's build, which never starts them: to bundle them again took 8 s. */
const browserWorkers: Plugin = {
  name: 'browser-workers',
  enforce: 'pre',
  transform: (code, _, options) =>
    options?.ssr && code.includes('new Worker(new URL(')
      ? code.replaceAll(/new Worker\(new URL\([^)]*\), [^)]*\)/g, 'undefined as never')
      : undefined,
};

/**
 * Lets modules of the library go that nothing uses: each begins with a call that makes its classes, so all of them, 52 kB
 * compressed, would come with the first button.
 */
const unusedControls: Plugin = {
  name: 'unused-controls',
  transform: (code, id) =>
    id.includes('/flowbite-svelte/dist/') ? { code, map: null, moduleSideEffects: false } : undefined,
};

export default defineConfig({
  // of the scripts of workers, which the page's own hooks do not see while it is developed
  server: { headers: Object.fromEntries(ANSWER_HEADERS) },
  resolve: { alias: sourceAliases },
  plugins: [browserWorkers, unusedControls, tailwindcss(), sveltekit()],
  worker: { format: 'es' },
  // bundled here, since the adapter's own bundler takes 20 s for the same
  ssr: {
    noExternal: true,
    external: [
      '@photostructure/sqlite',
      'knex',
      'piscina',
      'pino',
      'prom-client',
      'pg',
      'pg-boss',
      'openid-client',
      'ws',
    ],
  },
});
