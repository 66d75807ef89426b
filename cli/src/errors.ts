import { ArgumentError, BarRuleError, FormulaError, ModelRefusal, TooManyBarsError } from '@jaunty-ledger/core';
import { FileError } from '@jaunty-ledger/files/fileError';

/** What a run ends with; `--help` tells of each. */
export const EXIT = { done: 0, refused: 1, usage: 2, found: 3, ours: 70 } as const;

/** Something that keeps a command from its work, told in a sentence. */
export class CommandError extends Error {
  override readonly name = 'CommandError';
  constructor(
    message: string,
    readonly code: number = EXIT.refused,
  ) {
    super(message);
  }
}

/** An error as it is told. */
interface Told {
  code: string;
  message: string;
  file?: string;
  line?: number;
  /** A formula or a rule, and the place in it. */
  text?: string;
  position?: number;
  length?: number;
}

/** @param about  the file that was read, and the rule that was asked for */
export function toldOf(error: unknown, about: { file?: string; rule?: string }): { told: Told; exit: number } {
  const { file, rule } = about;
  const refused = (told: Told) => ({ told, exit: EXIT.refused });
  if (error instanceof FileError) return refused({ code: error.code, message: error.message, file, line: error.line });
  if (error instanceof FormulaError) {
    const { message, position, length, entry } = error;
    return refused({ code: 'invalid-formula', message, text: entry, position, length });
  }
  if (error instanceof BarRuleError)
    return refused({ code: 'invalid-rule', message: error.message, text: rule, position: error.position, length: 1 });
  if (error instanceof TooManyBarsError) return refused({ code: 'too-many-bars', message: error.message });
  if (error instanceof ArgumentError || error instanceof ModelRefusal)
    return refused({ code: 'refused', message: error.message });
  if (error instanceof CommandError)
    return { told: { code: 'refused', message: error.message, file }, exit: error.code };
  const code = error instanceof Error && 'code' in error ? String(error.code) : '';
  const plain: Record<string, string> = {
    ENOENT: 'There is no such file or folder.',
    EACCES: 'The file may not be read or written.',
    EISDIR: 'This is a folder, not a file.',
    ENOSPC: 'There is no room left to write to.',
  };
  if (code in plain) {
    const path = error instanceof Error && 'path' in error ? String(error.path) : file;
    return refused({ code, message: plain[code], file: path });
  }
  return {
    told: { code: 'internal-error', message: error instanceof Error ? (error.stack ?? error.message) : String(error) },
    exit: EXIT.ours,
  };
}

/** An error in lines for people: where it is, what is wrong, and the place under the text that it is in. */
export function errorText({ message, file, line, text, position, length = 1 }: Told): string {
  const where = [file, line && `line ${line}`].filter(Boolean).join(', ');
  const first = `jaunty: ${where ? `${where}: ` : ''}${message}`;
  if (text === undefined || position === undefined) return `${first}\n`;
  return `${first}\n  ${text}\n  ${' '.repeat(position)}${'^'.repeat(Math.max(1, Math.min(length, text.length - position)))}\n`;
}
