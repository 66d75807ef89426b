import { parseBarRule, printBarRule } from '@jaunty-ledger/core';
import { barTable } from '@jaunty-ledger/files/tables/barTable';
import { putTable, type OutputFormat } from '../output';
import type { Progress } from '../progress';
import { barsAsked, type BarOptions } from './columnsOfFile';

/** Cuts the records of a file into bars. */
export async function bars(
  file: string,
  { rule, out, format, ...options }: BarOptions & { rule: string; out?: string; format?: OutputFormat },
  progress: Progress,
): Promise<void> {
  const { bars: found, tape, rows } = await barsAsked(file, rule, options, progress);
  const about = { tape: tape.name, rule: printBarRule(parseBarRule(rule)) };
  await putTable(barTable(found, tape.reader, rows), out, format, about);
}
