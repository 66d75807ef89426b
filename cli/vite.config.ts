import { fileURLToPath } from 'node:url';
import { existsSync, readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { defineConfig, type Plugin } from 'vite';
import { sourceAliases } from '../scripts/sourceAliases.mjs';

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));

/** The folder of the package that a module is of. */
function packageOf(module: string): string | undefined {
  const found = /^.*\/node_modules\/(@[^/]+\/)?[^/]+/.exec(module.replace(/^\0/, ''))?.[0];
  return found && existsSync(join(found, 'package.json')) ? found : undefined;
}

/** Writes the licences of the packages that went in beside them. */
const licences = (): Plugin => ({
  name: 'licences',
  generateBundle(_, bundle) {
    const modules = Object.values(bundle).flatMap((part) => (part.type === 'chunk' ? part.moduleIds : []));
    const folders = [...new Set(modules.flatMap((module) => packageOf(module) ?? []))].sort();
    const texts = folders.map((folder) => {
      const { name, version, license } = JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8')) as Record<
        string,
        string
      >;
      const file = readdirSync(folder).find((one) => /^licen[cs]e/i.test(one));
      return `${name} ${version}, ${license}\n\n${file ? readFileSync(join(folder, file), 'utf8') : ''}`;
    });
    this.emitFile({ type: 'asset', fileName: 'licences.txt', source: texts.join('\n\n') });
  },
});

/** Files that need nothing beside Node: they can be packed, carried elsewhere and run there. What is rarely asked for is loaded when it is. */
export default defineConfig({
  plugins: [licences()],
  resolve: { alias: { ...sourceAliases, $lib: at('../app/src/lib') } },
  ssr: { noExternal: true },
  build: {
    ssr: at('src/main.ts'),
    outDir: 'dist',
    emptyOutDir: true,
    target: 'node20',
    minify: false,
    rollupOptions: {
      output: {
        entryFileNames: 'jaunty.js',
        format: 'es',
        banner: '#!/usr/bin/env node',
        chunkFileNames: 'parts/[name]-[hash].js',
      },
    },
  },
});
