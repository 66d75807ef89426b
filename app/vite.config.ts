import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vite';
import { ANSWER_HEADERS } from './src/lib/server/http/headers.ts';

export default defineConfig({
  // of the scripts of workers, which the page's own hooks do not see while it is developed
  server: { headers: Object.fromEntries(ANSWER_HEADERS) },
  plugins: [tailwindcss(), sveltekit()],
  worker: { format: 'es' },
  ssr: { external: ['@photostructure/sqlite', 'knex', 'piscina', 'pino', 'prom-client'] },
});
