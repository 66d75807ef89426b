import { createReadStream, createWriteStream, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { fileURLToPath } from 'node:url';
import { constants, createBrotliCompress, createGzip } from 'node:zlib';
import { build } from 'vite';

/* The entry files of adapter-node around the server that Vite has bundled. The adapter itself bundles that once more, with
   source maps, and compresses pages at the slowest level: 20 s of each build. */

const ENTRIES = ['handler', 'env', 'shims'];
const files = fileURLToPath(new URL('files', import.meta.resolve('@sveltejs/adapter-node')));
const COMPRESSED = /\.(js|css|html|svg|json|txt|xml|wasm)$/;
const SMALLEST_BYTES = 1024;

/** @returns {import('@sveltejs/kit').Adapter} */
export default function serverAdapter(out = 'build') {
  return {
    name: 'server-adapter',
    async adapt(builder) {
      builder.rimraf(out);
      builder.writeClient(join(out, 'client'));
      builder.writePrerendered(join(out, 'prerendered'));
      builder.writeServer(join(out, 'server'));
      const entries = join(builder.getBuildDirectory('adapter'), 'entries');
      builder.rimraf(entries);
      builder.copy(files, entries);
      const values = {
        BASE: "''",
        ENV_PREFIX: "''",
        PRECOMPRESS: 'true',
        PRERENDERED: `new Set(${JSON.stringify(builder.prerendered.paths)})`,
      };
      await Promise.all([compress(join(out, 'client')), bundle(entries, values, out)]);
    },
    supports: { read: () => true },
  };
}

/** Writes the entry files, which load the server from the folder beside them. */
const bundle = (entries, values, out) =>
  build({
    configFile: false,
    logLevel: 'warn',
    plugins: [
      {
        name: 'server-entries',
        enforce: 'pre',
        resolveId(id) {
          if (id === 'SERVER') return { id: './server/index.js', external: true };
          if (id === 'MANIFEST') return { id: './server/manifest.js', external: true };
        },
        transform(code, id) {
          if (!id.startsWith(entries)) return;
          return code.replaceAll(new RegExp(`\\b(${Object.keys(values).join('|')})\\b`, 'g'), (name) => values[name]);
        },
      },
    ],
    ssr: { noExternal: true },
    build: {
      ssr: true,
      outDir: out,
      emptyOutDir: false,
      copyPublicDir: false,
      minify: false,
      target: 'node20',
      rolldownOptions: {
        input: Object.fromEntries(ENTRIES.map((name) => [name, join(entries, `${name}.js`)])),
        // all beside each other: they find the pages from where they are themselves
        output: { entryFileNames: '[name].js', chunkFileNames: 'entry-[name]-[hash].js', format: 'es' },
      },
    },
  });

/** Compresses what is sent to browsers: brotli level 9 is within 8 % of the size of level 11 in a tenth of the time. */
async function compress(folder) {
  const found = readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .map((name) => join(folder, name))
    .filter((path) => COMPRESSED.test(path) && statSync(path).size >= SMALLEST_BYTES);
  for (const path of found) {
    const brotli = createBrotliCompress({
      params: { [constants.BROTLI_PARAM_QUALITY]: 9, [constants.BROTLI_PARAM_SIZE_HINT]: statSync(path).size },
    });
    await Promise.all([
      pipeline(createReadStream(path), brotli, createWriteStream(`${path}.br`)),
      pipeline(createReadStream(path), createGzip({ level: 9 }), createWriteStream(`${path}.gz`)),
    ]);
  }
}
