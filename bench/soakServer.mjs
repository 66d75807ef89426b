import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build, install, requireNode, root } from '../scripts/prepare.mjs';
import { SERVER_ARGUMENTS } from '../scripts/serverArguments.mjs';

/** A server for a long run, on a folder of its own that goes with it. */
export async function soakServer(port, settings = {}) {
  requireNode();
  install();
  build();
  const folder = mkdtempSync(join(tmpdir(), 'jaunty-soak-'));
  const server = spawn(process.execPath, SERVER_ARGUMENTS, {
    cwd: root,
    env: {
      ...process.env,
      ...{ PORT: String(port), JAUNTY_DATA: folder, JAUNTY_LOG: 'error', NODE_ENV: 'production' },
      ...settings,
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  for await (const text of server.stdout) if (String(text).includes('is open at')) break;
  server.stdout.resume();
  return {
    origin: `http://127.0.0.1:${port}`,
    folder,
    server,
    /** Megabytes that it has in memory. */
    memory: () => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.pid}/status`, 'utf8'))[1]) / 1024,
    end: () => {
      server.kill('SIGKILL');
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
