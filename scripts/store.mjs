import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { buildJobs, install, requireNode, root } from './prepare.mjs';

/* Backs up, restores, moves or spreads a store: `npm run store -- backup --from sqlite:data --to copy`. */

try {
  requireNode();
  install(console.error);
  buildJobs(console.error);
  const program = join(root, 'app', 'build-jobs', 'keep.js');
  process.exitCode = spawnSync(process.execPath, [program, ...process.argv.slice(2)], { stdio: 'inherit' }).status ?? 1;
} catch (error) {
  console.error(error.message);
  process.exitCode = 1;
}
