import { REQUIRED, ROLES, type ColumnReading, type ReadingChoices, type TapeKind } from './reading.js';
import type { ColumnType } from './columnTypes.js';
import { roleOfWord } from './headerWords.js';
import type { SampleTable } from './sampleTable.js';

/** The kind of the records, by the roles of their columns. */
export function kindOf(table: SampleTable, types: ColumnType[], chosen: ReadingChoices['columns']): TapeKind {
  const { names, header } = table;
  const roles = chosen ? chosen.map(({ role }) => role) : header ? names.map(roleOfWord) : [];
  const has = (role: string) => roles.includes(role);
  if (has('open') && has('high') && has('low')) return 'bars';
  if (has('bid') && has('ask')) return 'quotes';
  // one price a day, month, year or numbered period is a dated value, not a trade
  const hasTimes = types.includes('time') || types.includes('clock');
  const isDated = !hasTimes && (types.includes('date') || has('period') || periodsAmong(table, types) >= 0);
  if (has('price')) return isDated && !has('size') && !has('side') ? 'series' : 'ticks';
  const numbers = types.filter((type) => type === 'number').length;
  if (!header) return numbers >= 4 ? 'bars' : isDated ? 'series' : 'ticks';
  // dates with values under names of their own: closes, an index, or a column for each instrument
  return numbers > 0 && (isDated || types.includes('time') || types.includes('date')) ? 'series' : 'ticks';
}

/** A role for each column: by its header word if it has one, else by what stands in it, in the usual order. */
export function rolesOf(kind: TapeKind, table: SampleTable, types: ColumnType[]): ColumnReading[] {
  const { names, header, rows } = table;
  const roles = new Array<string>(names.length).fill('');
  const give = (role: string, index: number) => {
    if (
      index >= 0 &&
      roles[index] === '' &&
      ROLES[kind].includes(role) &&
      !(role !== 'value' && role !== 'text' && roles.includes(role))
    )
      roles[index] = role;
  };
  // a size beside several values would be the size of all of them
  const values = valueRoles(names, types);
  const isSingle = kind === 'series' && values.filter((role) => role === 'value').length === 1;
  // an amount without anything that it is the size of is the value
  const isOnlyNumber = values.length === 1;
  give('period', periodsAmong(table, types));
  const hasTimes = types.includes('time') || types.includes('date');
  if (header)
    names.forEach((name, index) => {
      const role = roleOfWord(name);
      if (role === undefined) return;
      // words under the name of a time, beside a column of times, are words
      if ((role === 'time' || role === 'date') && types[index] === 'text' && hasTimes) return;
      // `time` beside a date is its clock; `date` that holds whole times is the time
      if (role === 'time' && types[index] === 'clock') give('clock', index);
      else if (role === 'date' && types[index] === 'time') give('time', index);
      else if (role === 'time' && types[index] === 'date') give('date', index);
      else if (role === 'volume' && (kind === 'ticks' || (isSingle && !isOnlyNumber))) give('size', index);
      else if (role === 'size' && kind === 'series' && (!isSingle || isOnlyNumber)) return;
      else if (role === 'size' && kind === 'bars') give('volume', index);
      else if (role !== 'value' || kind !== 'series') give(role, index);
    });
  if (!roles.includes('instrument')) give('instrument', instrumentAmong(kind, rows, types, roles));
  if (!roles.some((role) => role === 'time' || role === 'date')) {
    give('time', types.indexOf('time'));
    if (!roles.includes('time')) give('date', types.indexOf('date'));
  }
  if (roles.includes('date') && !roles.includes('clock')) give('clock', types.indexOf('clock'));
  const usual =
    kind === 'series' ? valueRoles(names, types, roles) : (USUAL[kind] ?? []).filter((role) => !roles.includes(role));
  const isWanted = (role: string) => !header || REQUIRED[kind].includes(role);
  types.forEach((type, index) => {
    if (roles[index] !== '' || type !== 'number') return;
    const role = usual.shift();
    if (role !== undefined && isWanted(role)) give(role, index);
  });
  return names.map((name, index) => {
    const hasWords = types[index] === 'text' && (kind !== 'series' || isSingle) && !isIdentifier(rows, index);
    const own = types[index] === 'number' ? 'number' : hasWords ? 'text' : 'skip';
    const role = roles[index] || own;
    return { role, name: KEPT.has(role) ? plainName(name) : '' };
  });
}

/**
 * The column of numbers that count the rows. One that is called so may begin anywhere and have gaps; one without a name, or
 * with one that means nothing here, is the first column, and counts 1, 2, 3 and on, or from 0.
 */
function periodsAmong({ names, header, rows }: SampleTable, types: readonly ColumnType[]): number {
  if (types.some((type) => type === 'time' || type === 'date')) return -1;
  const numbersAt = (index: number) => rows.map((row) => (row[index]?.trim() ? Number(row[index]) : NaN));
  const risesBy = (index: number, fits: (step: number) => boolean) => {
    const numbers = types[index] === 'number' ? numbersAt(index) : [];
    return (
      numbers.length > 1 &&
      numbers.every((number, row) => Number.isInteger(number) && (row === 0 || fits(number - numbers[row - 1])))
    );
  };
  const called = header
    ? names.findIndex((name, index) => PERIOD_WORDS.test(name.trim()) && risesBy(index, (step) => step > 0))
    : -1;
  if (called >= 0) return called;
  const role = header ? roleOfWord(names[0]) : undefined;
  const mayCount = role === undefined || role === 'time' || role === 'date';
  const counts =
    mayCount &&
    rows.length >= (header ? LEAST_COUNTED : 2) &&
    [0, 1].includes(numbersAt(0)[0]) &&
    risesBy(0, (step) => step === 1);
  return counts ? 0 : -1;
}

const PERIOD_WORDS = /^(periods?|week|day|month|quarter|year|t|n|no\.?|nr\.?|#|row|step|index|observation|obs)$/i;
/** So many rows that count from the first on are no chance, whatever their column is called. */
const LEAST_COUNTED = 5;

/** Whether a column numbers the records: another word in each row, with digits in all. Nothing can be grouped by it. */
const isIdentifier = (rows: readonly string[][], index: number): boolean =>
  rows.length >= MIN_IDENTIFIERS &&
  rows.every((row) => /\d/.test(row[index] ?? '')) &&
  new Set(rows.map((row) => row[index])).size === rows.length;
/** Fewer rows may have different words by chance. */
const MIN_IDENTIFIERS = 20;

/** The column of words beside which times repeat, and never for one of them: whose records they are. Trades repeat by nature. */
function instrumentAmong(
  kind: TapeKind,
  rows: readonly string[][],
  types: readonly ColumnType[],
  roles: readonly string[],
): number {
  if (kind === 'ticks' || kind === 'quotes') return -1;
  const times = types.flatMap((type, index) => (type === 'time' || type === 'date' || type === 'clock' ? [index] : []));
  const timeOf = (row: readonly string[]) => times.map((index) => row[index]).join(' ');
  const count = new Set(rows.map(timeOf)).size;
  if (times.length === 0 || count > 0.5 * rows.length) return -1;
  return types.findIndex((type, index) => {
    if (type !== 'text' || roles[index] !== '') return false;
    // words that never come again number the records; at a single time there is nothing that they could come again at
    if (count > 1 && new Set(rows.map((row) => row[index])).size === rows.length) return false;
    return new Set(rows.map((row) => `${timeOf(row)} ${row[index]}`)).size === rows.length;
  });
}

/** Roles that keep a name. */
const KEPT: ReadonlySet<string> = new Set(['text', 'number', 'value']);

/**
 * Of columns of numbers under each date: the one that is called a price, else each of them is a value of its own. Several
 * of one name, `close 2025` and `close 2026`, are values too.
 */
function valueRoles(names: readonly string[], types: readonly ColumnType[], roles: readonly string[] = []): string[] {
  const figures = names.flatMap((name, index) =>
    types[index] === 'number' && !roles[index] ? [roleOfWord(name)] : [],
  );
  const best = ['price', 'close', 'value'].find((word) => figures.includes(word));
  const isOnly = figures.filter((role) => role === best).length === 1;
  return figures.map((role) => (!isOnly || role === best ? 'value' : 'number'));
}

const USUAL: Partial<Record<TapeKind, string[]>> = {
  ticks: ['price', 'size'],
  quotes: ['bid', 'ask', 'bidSize', 'askSize'],
  bars: ['open', 'high', 'low', 'close', 'volume', 'trades'],
};

/** Chosen roles; columns that are kept under a name take the file's own where none was given. */
export function named(chosen: ColumnReading[], names: readonly string[]): ColumnReading[] {
  return chosen.map(({ role, name }, index) => ({
    role,
    name: name || (KEPT.has(role) ? plainName(names[index] ?? `column ${index + 1}`) : ''),
  }));
}

/** A name for the tape of one column of a file; of a long one the file's part is cut. */
export function nameOfColumn(file: string, column: string): string {
  const own = plainName(column);
  const stem = plainName(file).slice(0, Math.max(1, 39 - own.length));
  return plainName(`${stem}_${own}`);
}

/** A name fit for formulas. */
export function plainName(name: string): string {
  const words = name
    .normalize('NFKD')
    .replaceAll(/[^A-Za-z0-9]+/g, '_')
    .replaceAll(/^_+|_+$/g, '');
  return (/^[A-Za-z]/.test(words) ? words : `T_${words || 'x'}`).slice(0, 40);
}
