import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { bin, build, install, requireNode, root } from './prepare.mjs';

/* The application with live reload. The worker programs are built once; they are rebuilt by starting again. */

requireNode();
install();
build();
const env = {
  ...process.env,
  JAUNTY_DATA: process.env.JAUNTY_DATA ?? join(root, 'data'),
  JAUNTY_JOBS: join(root, 'app', 'build-jobs'),
};
spawn(bin('vite'), ['dev', '--host', '127.0.0.1'], { cwd: join(root, 'app'), env, stdio: 'inherit' });
