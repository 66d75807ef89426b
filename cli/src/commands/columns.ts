import { putTable, type OutputFormat } from '../output';
import type { Progress } from '../progress';
import { columnsOfFile, tableOf, type BarOptions } from './columnsOfFile';

interface ColumnsOptions extends BarOptions {
  bars: string;
  entry: string[];
  complete?: boolean;
  out?: string;
  format?: OutputFormat;
}

/** Bars with a column for each formula. */
export async function columns(
  file: string,
  { out, format, ...options }: ColumnsOptions,
  progress: Progress,
): Promise<void> {
  const found = await columnsOfFile(file, options.bars, options.entry, options, progress);
  await putTable(tableOf(found, options.complete), out, format, { tape: found.tape.name, rule: found.frame.rule });
}
