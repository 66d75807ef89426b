import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { buildLibraries, install, root } from './prepare.mjs';
import { referencePage, sourcesIn } from './reference.mjs';

install();
buildLibraries();
const { catalogue, functionsPage } = await import('../core/dist/index.js');
writeFileSync(join(root, 'docs', 'functions.md'), functionsPage(catalogue.values()));
const [core, files] = ['core', 'files'].map((name) => join(root, name));
writeFileSync(
  join(core, 'REFERENCE.md'),
  referencePage('Reference of the core', core, [join(core, 'src', 'index.ts')]),
);
writeFileSync(join(files, 'REFERENCE.md'), referencePage('Reference of the files', files, sourcesIn(files)));
