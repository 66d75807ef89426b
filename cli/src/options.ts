import { InvalidArgumentError, Option, type Command } from 'commander';
import type { CalendarOptions, Weekday } from '@jaunty-ledger/core';
import { WEEKDAYS } from '@jaunty-ledger/core';
import { CHECKS, Treatment, type Treatments } from '@jaunty-ledger/files/checks/checks';
import { FileFormat, ReadingChoices, TapeKind } from '@jaunty-ledger/files/reading/reading';
import { CommandError, EXIT } from './errors';
import type { Source } from './readFile';

/** What the command line tells of how a file is read. */
export interface ReadingOptions {
  zone: string;
  session?: string;
  weekdays?: string[];
  closed?: string[];
  closeIncluded?: boolean;
  kind?: string;
  interval?: string;
  tape?: string;
  inputFormat?: string;
  columns?: string;
  delimiter?: string;
  decimal?: string;
  encoding?: string;
  dateOrder?: string;
  sheet?: string;
  checks?: string[];
}

const list = (text: string): string[] => text.split(',').map((part) => part.trim());
const gathered = (text: string, before: string[] = []): string[] => [...before, text];

/** The options of every command that reads records. */
export function withReading(command: Command): Command {
  return command
    .option('--zone <zone>', 'time zone of times without one, and of the sessions', 'UTC')
    .option('--session <hours>', 'trading hours, such as 08:30-16:30; all day without')
    .option('--weekdays <days>', 'trading days, such as Mon,Tue,Wed', list)
    .option('--closed <dates>', 'days without trading, such as 2026-12-25,2026-12-26', list)
    .option('--close-included', 'the closing time belongs to the session')
    .addOption(new Option('--kind <kind>', 'what the records are, where it is not seen').choices(TapeKind.options))
    .option('--interval <length>', 'length of records that are bars, such as "1 minute"')
    .option('--tape <name>', 'the instrument, where the file holds several')
    .addOption(
      new Option('--input-format <format>', 'format of the file, where it is not seen').choices(FileFormat.options),
    )
    .option('--columns <roles>', 'role of each column, such as time,price,size,skip')
    .option('--delimiter <name>', 'comma, semicolon, tab, bar or space')
    .option('--decimal <name>', 'point or comma')
    .option('--encoding <name>', 'utf-8, utf-16le, utf-16be or latin1')
    .option('--date-order <order>', 'year-first, day-first or month-first')
    .option('--sheet <name>', 'of a spreadsheet')
    .option(
      '--checks <check=treatment>',
      'what becomes of what a check finds: keep, flag or leave-out; may be repeated',
      gathered,
    );
}

/** @throws {CommandError} with the option at fault */
export function sourceOf(file: string, options: ReadingOptions): Source {
  const read = ReadingChoices.safeParse({
    ...(options.inputFormat && { format: options.inputFormat }),
    ...(options.kind && { kind: options.kind }),
    ...(options.columns && { columns: options.columns }),
    ...(options.delimiter && { delimiter: options.delimiter }),
    ...(options.decimal && { decimal: options.decimal }),
    ...(options.encoding && { encoding: options.encoding }),
    ...(options.dateOrder && { dateOrder: options.dateOrder }),
    ...(options.sheet && { sheet: options.sheet }),
  });
  if (!read.success) {
    const [{ path, message }] = read.error.issues;
    throw new CommandError(
      `--${String(path[0]).replaceAll(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)}: ${message}`,
      EXIT.usage,
    );
  }
  const unknown = options.weekdays?.find((day) => !WEEKDAYS.includes(day as Weekday));
  if (unknown !== undefined)
    throw new CommandError(`--weekdays: ${unknown} is none of ${WEEKDAYS.join(', ')}`, EXIT.usage);
  const calendar: CalendarOptions = {
    zone: options.zone,
    session: options.session,
    weekdays: options.weekdays as Weekday[] | undefined,
    closed: options.closed,
    closeIncluded: options.closeIncluded,
  };
  return {
    file,
    choices: read.data,
    calendar,
    interval: options.interval,
    checks: treatments(options.checks ?? []),
    tape: options.tape,
  };
}

function treatments(texts: readonly string[]): Treatments {
  const found: Treatments = {};
  for (const text of texts.flatMap(list)) {
    const [id, treatment] = text.split('=');
    const check = CHECKS.find((one) => one.id === id);
    if (!check)
      throw new CommandError(
        `--checks: no check is called ${id}; there are ${CHECKS.map((one) => one.id).join(', ')}`,
        EXIT.usage,
      );
    const choice = Treatment.safeParse(treatment);
    if (!choice.success || !(check.choices as readonly string[]).includes(choice.data))
      throw new CommandError(
        `--checks: what ${id} finds can be ${check.choices.join(', ') || 'told only'}`,
        EXIT.usage,
      );
    found[check.id] = choice.data;
  }
  return found;
}

export function wholeNumber(text: string): number {
  const value = Number(text);
  if (!Number.isInteger(value) || value < 1) throw new InvalidArgumentError('It is a whole number from 1.');
  return value;
}
