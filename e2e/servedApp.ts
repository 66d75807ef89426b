import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { TestProject } from 'vitest/node';
import { SERVER_ARGUMENTS } from '../scripts/serverArguments.mjs';

declare module 'vitest' {
  export interface ProvidedContext {
    origin: string;
    folder: string;
  }
}

/** A port that nobody listens on. */
function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.on('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const address = server.address();
      server.close(() => resolve(typeof address === 'object' && address ? address.port : 0));
    });
  });
}

/** A server that was started. */
export interface Served {
  origin: string;
  process: ChildProcess;
  /** What it has printed so far. */
  printed: () => string;
}

/**
 * Starts the application as its users do, with an empty folder, and waits until it says its address.
 * @param heard  told what it has printed so far, each time that it prints
 * @throws with what it has printed, where it ends before that
 */
export async function serve(
  folder: string,
  settings: Record<string, string> = {},
  heard: (printed: string, server: ChildProcess) => void = () => undefined,
): Promise<Served> {
  const port = await freePort();
  const root = fileURLToPath(new URL('..', import.meta.url));
  const server = spawn(process.execPath, SERVER_ARGUMENTS, {
    cwd: root,
    env: {
      ...process.env,
      PORT: String(port),
      JAUNTY_DATA: folder,
      JAUNTY_LOG: 'error',
      NODE_ENV: 'production',
      ...settings,
    },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let printed = '';
  await new Promise<void>((resolve, reject) => {
    const listen = (data: Buffer) => {
      printed = (printed + data.toString()).slice(-1_000_000);
      heard(printed, server);
      if (printed.includes('is open at')) resolve();
    };
    server.stdout.on('data', listen);
    server.stderr.on('data', listen);
    server.on('exit', (code) => reject(new Error(`the server ended with ${code}:\n${printed}`)));
  });
  return { origin: `http://127.0.0.1:${port}`, process: server, printed: () => printed };
}

export default async function setup({ provide }: TestProject) {
  const folder = mkdtempSync(join(tmpdir(), 'jaunty-e2e-'));
  const served = await serve(folder);
  provide('origin', served.origin);
  provide('folder', folder);
  return () => {
    served.process.kill();
    rmSync(folder, { recursive: true, force: true });
  };
}
