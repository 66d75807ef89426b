import type { Knex } from 'knex';

export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('job', (table) => {
    table.string('id', 36).primary();
    table.string('kind', 40).notNullable();
    table.text('input').notNullable();
    table.string('client').notNullable();
    table.string('state', 10).notNullable().index();
    table.integer('attempt').notNullable();
    // the one that works on it
    table.string('server');
    // counts on for as long as somebody works on it: clocks of servers may be apart
    table.integer('beat').notNullable();
    table.double('share').notNullable();
    table.integer('is_stopped').notNullable();
    table.text('problem');
    table.double('made_at').notNullable();
    table.double('ended_at');
  });
  // what comes with a job, of attempt 0, and what comes out of its attempts
  await db.schema.createTable('job_bytes', (table) => {
    table.string('job_id', 36).notNullable();
    table.integer('attempt').notNullable();
    table.integer('sequence').notNullable();
    table.binary('data').notNullable();
    table.primary(['job_id', 'attempt', 'sequence']);
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTable('job_bytes');
  await db.schema.dropTable('job');
}
