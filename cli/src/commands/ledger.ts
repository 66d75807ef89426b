import { mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { entryFacts, rfc3339, splitEntry } from '@jaunty-ledger/core';
import type { Chart, Panel } from '$lib/api/handovers';
import { LedgerFile } from '$lib/api/ledgers';
import { chartSvg } from '$lib/handover/chartSvg';
import { standalone } from '$lib/handover/standaloneSvg';
import { CommandError, errorText, EXIT, toldOf } from '../errors';
import { putTable, putText, type OutputFormat } from '../output';
import type { Progress } from '../progress';
import { tapeName } from '../readFile';
import { columnsOfFile, tableOf, type BarOptions, type FileColumns } from './columnsOfFile';

interface LedgerOptions extends BarOptions {
  out: string;
  format: OutputFormat;
  withoutPictures?: boolean;
}

/** Rows that a picture has room for. */
const MOST_DRAWN = 1200;

function readLedger(path: string): LedgerFile {
  let body: unknown;
  try {
    body = JSON.parse(readFileSync(path, 'utf8'));
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error;
    throw new CommandError(`${path} is no JSON: ${error.message}`);
  }
  const read = LedgerFile.safeParse(body);
  if (read.success) return read.data;
  const [{ path: at, message }] = read.error.issues;
  throw new CommandError(
    `${path} is no ledger: ${at.join('.') || 'the whole'}: ${message}. The page of a ledger exports one as JSON.`,
  );
}

/** The entries of a ledger over each of some files. A file that cannot be read is told of, and the others are done. */
export async function ledgerOverFiles(
  path: string,
  files: readonly string[],
  options: LedgerOptions,
  asJson: boolean,
  progress: Progress,
): Promise<void> {
  const ledger = readLedger(path);
  const { rule, flagged, lanes } = ledger.body;
  const entries = lanes.flatMap((lane) => lane.entries.map(({ text }) => text));
  mkdirSync(options.out, { recursive: true });
  const taken = new Set<string>();
  for (const file of files) {
    const name = freeName(tapeName(file), taken);
    try {
      const found = await columnsOfFile(
        file,
        rule,
        entries,
        { ...options, withoutFlagged: options.withoutFlagged ?? !flagged },
        progress,
      );
      await putTable(tableOf(found), join(options.out, `${name}.${options.format}`), options.format);
      if (!options.withoutPictures) await putText(pictureOf(ledger, found), join(options.out, `${name}.svg`));
    } catch (error) {
      const { told, exit } = toldOf(error, { file, rule });
      if (exit === EXIT.ours) throw error;
      process.stderr.write(asJson ? `${JSON.stringify(told)}\n` : errorText({ ...told, file }));
      process.exitCode = EXIT.refused;
    }
  }
}

function freeName(stem: string, taken: Set<string>): string {
  let name = stem;
  for (let number = 2; taken.has(name.toLowerCase()); number++) name = `${stem}_${number}`;
  taken.add(name.toLowerCase());
  return name;
}

/** A picture of the last rows: a panel a lane, as the ledger has them. */
function pictureOf({ title, body }: LedgerFile, { bars, tape, rows, plans, columns, calendar }: FileColumns): string {
  const first = Math.max(rows[0], rows[1] - MOST_DRAWN);
  const figures = (values: ArrayLike<number>) =>
    Array.from({ length: rows[1] - first }, (_, row) =>
      Number.isFinite(values[first + row]) ? values[first + row] : null,
    );
  const facts = plans.flatMap((plan) => entryFacts(plan));
  const panels = body.lanes.map(({ base, entries, scale }): Panel => ({
    scale: scale === 'log' || scale === 'zero' ? scale : scale === 'percent' ? 'rebased' : 'fit',
    unit: '',
    prefix: '',
    lines: [
      ...(base === 'none'
        ? []
        : [
            {
              column: base === 'price' ? 'close' : 'volume',
              label: '',
              as: base === 'price' ? ('plain' as const) : ('columns' as const),
              ink: 7,
            },
          ]),
      ...entries
        .filter(({ hidden }) => !hidden)
        .flatMap(({ text, ink, drawn }) => {
          const { name = text.trim() } = splitEntry(text);
          return facts
            .filter(
              (fact) => fact.name === name || fact.name.startsWith(`${name}[`) || fact.name.startsWith(`${name}.`),
            )
            .map((fact) => ({
              column: fact.name,
              label: '',
              as: drawn === 'columns' ? ('columns' as const) : ('plain' as const),
              ink,
            }));
        }),
    ],
  }));
  const none = { looksAhead: false, role: 'other' as const, lag: null };
  const chart: Chart = {
    ...{ id: 'picture', kind: 'chart', title: `${title}, ${tape.name}`, panels, oneScale: false, follows: false },
    setting: { tape: tape.name, bars: body.rule, flagged: body.flagged, entries: [], from: '', to: '', alone: null },
    kept: {
      origin: {
        ...{
          tape: tape.name,
          bars: body.rule,
          version: 1,
          file: '',
          sha256: '',
          unit: '',
          decimals: tape.found.priceDecimals,
        },
        ...{
          zone: calendar.zone.name,
          precision: tape.reader.precision,
          from: '',
          to: '',
          rows: rows[1] - first,
          at: '',
        },
      },
      each: 1,
      time: Array.from(bars.time.subarray(first, rows[1]), rfc3339),
      columns: Object.fromEntries([
        ['close', figures(bars.close)],
        ['volume', figures(bars.volume)],
        ...columns.map(({ name, values }) => [name, figures(values)]),
      ]),
      facts: [
        { name: 'close', unit: 'price', phrase: 'close', ...none },
        { name: 'volume', unit: 'units', phrase: 'volume', ...none },
        ...facts.map((fact) => ({ ...fact, lag: Number.isNaN(fact.lag) ? null : fact.lag })),
      ],
      formulas: {},
      short: {},
    },
  };
  return standalone(chartSvg(chart));
}
