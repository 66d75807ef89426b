import pg from 'pg';
import PgBoss from 'pg-boss';
import { settings } from '../../settings';
import { log } from '../../log';
import type { JobQueue } from '../jobQueue';
import type { Rows } from '../store';
import { makeTables } from './makeTables';

const QUEUE = 'jobs';
/** How often a job is taken out is counted where its attempts are. */
const MOST_TAKEN = 1000;
/** Longer than any job takes: that its server has gone is seen otherwise. */
const EXPIRES_SECONDS = 23 * 3600;

/** What a statement of the queue is sent over. */
interface Connection {
  query(text: string, values: unknown[]): Promise<{ rows: object[] }>;
}

const CONNECTIONS = 2;
const CONNECTED_WITHIN_MS = 10_000;

/** The queue's own connections, with a limit on how long a statement takes: a silent one keeps nobody waiting for ever. */
class QueueConnections implements PgBoss.Db {
  private readonly pool: pg.Pool;

  constructor(address: string) {
    this.pool = new pg.Pool({
      ...{ connectionString: address, application_name: 'jaunty-ledger jobs', max: CONNECTIONS, keepAlive: true },
      connectionTimeoutMillis: CONNECTED_WITHIN_MS,
      query_timeout: settings.JAUNTY_STORE_PATIENCE * 1000,
    });
    this.pool.on('error', (error) => log.warn({ err: error }, 'an idle connection of the queue of jobs failed'));
  }

  async executeSql(text: string, values: unknown[]): Promise<{ rows: object[] }> {
    // on any error the pool closes the connection: it may be silent, or in a transaction that failed
    return this.pool.query(text, values);
  }

  end = (): Promise<void> => this.pool.end();
}

/** A queue in tables of its own beside those of the store. */
export class PostgresJobQueue implements JobQueue {
  private constructor(
    private readonly boss: PgBoss,
    private readonly connections: QueueConnections,
  ) {}

  /** Opens the queue of a database, and makes its tables where there are none. */
  static open(address: string): Promise<PostgresJobQueue> {
    return makeTables(async () => {
      const connections = new QueueConnections(address);
      const boss = new PgBoss({
        db: connections,
        // it makes its tables and keeps them; nothing is done by the clock
        ...{ schema: 'job_queue', schedule: false, maintenanceIntervalSeconds: 600 },
      });
      boss.on('error', (error) => log.warn({ err: error }, 'the queue of jobs'));
      try {
        await boss.start();
        await boss.createQueue(QUEUE, { name: QUEUE, policy: 'standard' });
      } catch (error) {
        await boss.stop({ graceful: false }).catch(() => undefined); // it may not have started
        await connections.end();
        throw error;
      }
      return new PostgresJobQueue(boss, connections);
    });
  }

  async put(rows: Rows, id: string, priority: number): Promise<void> {
    // within a write the connection is that of the write
    const connection = (await (
      rows.client as { acquireConnection(): Promise<unknown> }
    ).acquireConnection()) as Connection;
    const db: PgBoss.Db = { executeSql: (text, values) => connection.query(text, values) };
    const options = { id, priority, db, retryLimit: MOST_TAKEN, retryDelay: 0, expireInSeconds: EXPIRES_SECONDS };
    await this.boss.send(QUEUE, {}, options);
  }

  async next(): Promise<string | undefined> {
    const [job] = await this.boss.fetch(QUEUE, { batchSize: 1 });
    return job?.id;
  }

  async isOut(id: string): Promise<boolean> {
    const job = await this.boss.getJobById(QUEUE, id);
    return job !== null && job.state === 'active';
  }

  async again(id: string): Promise<void> {
    await this.boss.fail(QUEUE, id);
  }

  async forget(id: string): Promise<void> {
    await this.boss.deleteJob(QUEUE, id);
  }

  async close(): Promise<void> {
    await this.boss.stop({ graceful: false });
    await this.connections.end();
  }
}
