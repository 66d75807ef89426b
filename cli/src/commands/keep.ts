import { spawn } from 'node:child_process';
import { existsSync, realpathSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { CommandError } from '../errors';

/** The program that knows stores; it is built with the server, and the command line alone does without. */
const PROGRAM = join(dirname(realpathSync(process.argv[1])), '..', '..', 'app', 'build-jobs', 'keep.js');

/** Has the whole store moved, backed up, restored or spread. */
export async function keep(
  command: 'move' | 'backup' | 'restore' | 'spread',
  options: { from?: string; to?: string; over?: string[] },
): Promise<void> {
  if (!existsSync(PROGRAM))
    throw new CommandError(
      'Stores are kept with the server beside the command line: run `npm run build` in its folder first.',
    );
  const told = Object.entries(options).flatMap(([name, value]) =>
    (Array.isArray(value) ? value : [value]).flatMap((one) => (one === undefined ? [] : [`--${name}`, one])),
  );
  const program = spawn(process.execPath, [PROGRAM, command, ...told], { stdio: 'inherit' });
  process.exitCode = await new Promise<number>((resolve, reject) => {
    program.on('error', reject);
    program.on('exit', (code) => resolve(code ?? 1));
  });
}
