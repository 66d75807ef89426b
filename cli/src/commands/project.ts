import { barsToCome, modelText, parseBarRule, parseModel, project } from '@jaunty-ledger/core';
import type { Table, TableColumn } from '@jaunty-ledger/files/tables/table';
import { CommandError } from '../errors';
import { putTable, type OutputFormat } from '../output';
import type { Progress } from '../progress';
import { oneColumn, type BarOptions } from './columnsOfFile';

interface ProjectOptions extends BarOptions {
  bars: string;
  entry: string[];
  model?: string[];
  ahead: number;
  out?: string;
  format?: OutputFormat;
}

/** What models say of rows to come: a row each, with the ends within which 80 and 95 % are to be. */
export async function projectFile(file: string, options: ProjectOptions, progress: Progress): Promise<void> {
  const { values, time, calendar } = await oneColumn(file, options.bars, options.entry, options, progress);
  const isThere = (_: number, row: number) => !Number.isNaN(values[row]);
  const x = values.filter(isThere);
  if (x.length === 0) throw new CommandError('The column has no value to go on from.');
  const last = time.filter(isThere).at(-1)!;
  const { start } = barsToCome(parseBarRule(options.bars), calendar, last, options.ahead);
  const models = (options.model ?? ['last']).map(parseModel);
  const rows = options.ahead * models.length;
  const words = models.map(modelText);
  const columns = new Map(
    ['ahead', 'value', 'low80', 'high80', 'low95', 'high95'].map((name) => [name, new Float64Array(rows)]),
  );
  models.forEach((model, at) => {
    const said = project(values, model, options.ahead);
    for (let row = 0; row < options.ahead; row++) {
      columns.get('ahead')![at * options.ahead + row] = row + 1;
      for (const name of ['value', 'low80', 'high80', 'low95', 'high95'] as const)
        columns.get(name)![at * options.ahead + row] = said[name][row];
    }
  });
  const all: TableColumn[] = [
    {
      name: 'model',
      kind: 'words',
      words,
      values: Float64Array.from({ length: rows }, (_, row) => Math.floor(row / options.ahead)),
    },
    // bars that no clock tells have no time yet
    {
      name: 'time',
      kind: 'instants',
      values: Float64Array.from({ length: rows }, (_, row) => start[row % options.ahead] ?? NaN),
    },
    ...[...columns].map(([name, column]): TableColumn => ({ name, kind: 'numbers', values: column })),
  ];
  const table: Table = all.filter(({ name }) => name !== 'time' || start.length >= options.ahead);
  return putTable(table, options.out, options.format);
}
