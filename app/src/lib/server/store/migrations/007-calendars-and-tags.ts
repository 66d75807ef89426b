import type { Knex } from 'knex';
import { pictureOf } from '$lib/api/shelf';
import { columnKinds } from './columnKinds';

interface OldTape {
  id: number;
  spark: string;
  report: string;
  appended: string;
}

interface OldReport {
  leftOutCount: number;
  findings: { id: string; count: number }[];
}

/** Calendars with names, which many tapes go by; words that a tape is found by; what the shelf shows of a tape, in short. */
export async function up(db: Knex): Promise<void> {
  const { json } = columnKinds(db);
  await db.schema.createTable('calendar', (table) => {
    table.string('name_key', 60).primary();
    table.string('name', 60).notNullable();
    table.string('zone', 64).notNullable();
    table.string('session', 20);
    json(table, 'weekdays');
    json(table, 'closed');
    table.integer('close_included').notNullable();
  });
  await db.schema.alterTable('tape', (table) => {
    // the calendar that it goes by; its hours stand in the tape too, so that reading it asks for nothing else
    table.string('calendar', 60);
    json(table, 'tags').notNullable().defaultTo('[]');
    // of the spark and of all reports: to read those of thousands of tapes takes long
    table.string('picture', 60).notNullable().defaultTo('');
    table.integer('left_out').notNullable().defaultTo(0);
    table.integer('sorted').notNullable().defaultTo(0);
  });
  for (const { id, spark, report, appended } of await db<OldTape>('tape').select('id', 'spark', 'report', 'appended')) {
    const reports = [JSON.parse(report), ...(JSON.parse(appended) as OldReport[])] as OldReport[];
    const sum = (count: (one: OldReport) => number) => reports.reduce((total, one) => total + count(one), 0);
    await db('tape')
      .where({ id })
      .update({
        picture: pictureOf(JSON.parse(spark) as number[]),
        left_out: sum(({ leftOutCount }) => leftOutCount ?? 0),
        sorted: sum(({ findings = [] }) => findings.find((one) => one.id === 'out-of-order')?.count ?? 0),
      });
  }
}

export async function down(db: Knex): Promise<void> {
  await db.schema.alterTable('tape', (table) => {
    table.dropColumn('calendar');
    for (const name of ['tags', 'picture', 'left_out', 'sorted']) table.dropColumn(name);
  });
  await db.schema.dropTable('calendar');
}
