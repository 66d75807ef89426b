import { CommanderError, type Command } from 'commander';
import type { examineFile } from './commands/examine';
import type { keep } from './commands/keep';
import type { ledgerOverFiles } from './commands/ledger';
import type { projectFile } from './commands/project';
import type { BarOptions } from './commands/columnsOfFile';
import { CommandError, errorText, EXIT, toldOf } from './errors';
import { completionScript, manualPage } from './manual';
import type { ReadingOptions } from './options';
import { putText, type OutputFormat } from './output';
import { makeProgram } from './program';
import { Progress } from './progress';

interface TableOptions extends BarOptions {
  out?: string;
  format?: OutputFormat;
}

/** What the command under way is about, for its errors. */
const about: { file?: string; rule?: string } = {};
const isJson = (): boolean => program.opts<{ json?: boolean }>().json === true;
const progress = (): Progress => new Progress(program.opts<{ quiet?: boolean }>().quiet === true);

async function kept(...told: Parameters<typeof keep>): Promise<void> {
  const { keep: run } = await import('./commands/keep');
  await run(...told);
}

const program: Command = makeProgram({
  check: async (file: string, options: ReadingOptions) => {
    about.file = file;
    const { check } = await import('./commands/check');
    return check(file, options, isJson(), progress());
  },
  bars: async (file: string, options: TableOptions & { rule: string }) => {
    Object.assign(about, { file, rule: options.rule });
    const { bars } = await import('./commands/bars');
    await bars(file, options, progress());
  },
  columns: async (file: string, options: TableOptions & { bars: string; entry: string[]; complete?: boolean }) => {
    Object.assign(about, { file, rule: options.bars });
    const { columns } = await import('./commands/columns');
    await columns(file, options, progress());
  },
  ledger: async (path: string, files: string[], options: Parameters<typeof ledgerOverFiles>[2]) => {
    const { ledgerOverFiles: run } = await import('./commands/ledger');
    await run(path, files, options, isJson(), progress());
  },
  examine: async (file: string, options: Parameters<typeof examineFile>[1]) => {
    Object.assign(about, { file, rule: options.bars });
    const { examineFile: run } = await import('./commands/examine');
    return run(file, options, isJson(), progress());
  },
  project: async (file: string, options: Parameters<typeof projectFile>[1]) => {
    Object.assign(about, { file, rule: options.bars });
    const { projectFile: run } = await import('./commands/project');
    return run(file, options, progress());
  },
  move: (options: { from: string; to: string }) => kept('move', options),
  backup: (options: { from: string; to: string }) => kept('backup', options),
  restore: (options: { from: string; to: string }) => kept('restore', options),
  spread: (options: { from: string; over: string[] }) => kept('spread', options),
  functions: async (name: string | undefined) => {
    const { functions } = await import('./commands/functions');
    return functions(name, isJson());
  },
  completion: async (shell: string) => {
    const script = completionScript(program, shell);
    if (script === undefined)
      throw new CommandError(`There is a completion for bash, zsh and fish, not for ${shell}.`, EXIT.usage);
    await putText(script);
  },
  manual: () => putText(manualPage(program)),
});

for (const command of [program, ...program.commands]) command.exitOverride();

try {
  await program.parseAsync();
} catch (error) {
  if (error instanceof CommanderError) process.exitCode = error.exitCode === 0 ? EXIT.done : EXIT.usage;
  else {
    const { told, exit } = toldOf(error, about);
    process.stderr.write(isJson() ? `${JSON.stringify(told)}\n` : errorText(told));
    process.exitCode = exit;
  }
}
