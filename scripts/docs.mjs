import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { build, install, root } from './prepare.mjs';

install();
build();
const { catalogue, functionsPage } = await import('../core/dist/index.js');
writeFileSync(join(root, 'docs', 'functions.md'), functionsPage(catalogue.values()));
