import adapter from './adapter.js';
import { vitePreprocess } from '@sveltejs/vite-plugin-svelte';

/** @type {import('@sveltejs/kit').Config} */
export default {
  preprocess: vitePreprocess(),
  kit: {
    adapter: adapter(),
    // hooks.server.ts checks Host and Origin of every request; this one would refuse a plain `curl --data-binary`
    csrf: { trustedOrigins: ['*'] },
    csp: {
      directives: {
        'default-src': ['self'],
        'script-src': ['self'],
        'style-src': ['self', 'unsafe-inline'],
        'img-src': ['self', 'data:', 'blob:'],
        'font-src': ['self'],
        'worker-src': ['self'],
        'connect-src': ['self'],
        'object-src': ['none'],
        'base-uri': ['none'],
        'form-action': ['self'],
        // two pages stand side by side in frames of our own
        'frame-ancestors': ['self'],
      },
    },
  },
};
