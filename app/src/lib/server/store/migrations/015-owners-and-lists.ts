import type { Knex } from 'knex';
import { columnKinds } from './columnKinds';

interface TapeReports {
  id: number;
  report: string;
  appended: string;
  calendar_check: string | null;
}
interface Report {
  findings: { id: string; count: number; treatment: string }[];
}

const read = <Value>(found: unknown) => (typeof found === 'string' ? JSON.parse(found) : found) as Value;

/** Records outside the session and on closed dates. */
function outsideOf({ report, appended, calendar_check }: TapeReports): number {
  const check = read<{ outside: number; closedDate: number } | null>(calendar_check);
  if (check) return check.outside + check.closedDate;
  return [read<Report>(report), ...read<Report[]>(appended)]
    .flatMap(({ findings = [] }) => findings)
    .filter(({ id, treatment }) => (id === 'outside' || id === 'closed-date') && treatment !== 'leave-out')
    .reduce((sum, { count }) => sum + count, 0);
}

/** What the file called the single values of a tape, where formulas can use it as a name. */
function valueNameOf({ report }: TapeReports): string | null {
  const { reading } = read<{ reading?: { kind: string; columns: { role: string; name: string }[] } | null }>(report);
  if (reading?.kind !== 'series') return null;
  const { name = '' } = reading.columns.find(({ role }) => role === 'value') ?? {};
  const isFree = /^[A-Za-z_]\w{0,59}$/.test(name) && !TAKEN.has(name.toLowerCase());
  return isFree ? name : null;
}

/** Names that columns of bars have, and words of the notation. */
const TAKEN: ReadonlySet<string> = new Set(
  'time end open high low close volume value vwap trades turnover price size line flags and or not this all on forming'.split(
    ' ',
  ),
);

const DOCUMENTS = ['ledger', 'page', 'handover'] as const;

export async function up(db: Knex): Promise<void> {
  const { large } = columnKinds(db);
  for (const table of DOCUMENTS) {
    // lists are read in this order, a stretch at a time
    await db.schema.alterTable(table, (columns) => columns.index(['saved_at', 'id'], `${table}_by_saved_at`));
  }
  // a ledger refers to its tape by id, so that a tape with very many ledgers is renamed at once
  await db.schema.alterTable('ledger', (table) => {
    table[large]('tape_id').nullable().index();
    // the last name of a tape that is gone
    table.string('tape_name').nullable();
  });
  await db.raw(
    'update ledger set tape_id = (select tape.id from tape where tape.name_key = ledger.tape_key and tape.deleted_at is null)',
  );
  await db.schema.createTable('page_link', (table) => {
    table.string('id', 24).primary();
    table[large]('page_id').notNullable().index();
    table.string('made_by', 40).notNullable();
    table.double('made_at').notNullable();
    table.double('until').notNullable();
  });
  for (const table of ['kept_entry', 'reading_profile'])
    await db.schema.alterTable(table, (columns) => columns.string('owner', 40).nullable());
  // beside the reports, which lists do not read
  await db.schema.alterTable('tape', (table) => {
    table.integer('outside').notNullable().defaultTo(0);
    table.string('value_name', 60).nullable();
  });
  for (const tape of await db<TapeReports>('tape').select('id', 'report', 'appended', 'calendar_check')) {
    const outside = outsideOf(tape);
    const value_name = valueNameOf(tape);
    if (outside > 0 || value_name !== null) await db('tape').where({ id: tape.id }).update({ outside, value_name });
  }
  await db.schema.alterTable('session', (table) => {
    // told to nobody but whoever is signed in, who ends a session by it
    table.string('id', 24).nullable();
    table.double('made_at').nullable();
    table.double('used_at').nullable();
    table.string('address', 100).nullable();
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.alterTable('session', (table) => table.dropColumns('id', 'made_at', 'used_at', 'address'));
  for (const table of ['kept_entry', 'reading_profile'])
    await db.schema.alterTable(table, (columns) => columns.dropColumn('owner'));
  await db.schema.dropTable('page_link');
  await db.schema.alterTable('tape', (table) => table.dropColumns('outside', 'value_name'));
  await db.schema.alterTable('ledger', (table) => table.dropColumns('tape_id', 'tape_name'));
  for (const table of DOCUMENTS)
    await db.schema.alterTable(table, (columns) => columns.dropIndex(['saved_at', 'id'], `${table}_by_saved_at`));
}
