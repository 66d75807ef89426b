import type { Knex } from 'knex';
import { rfc3339 } from '@jaunty-ledger/core';
import { fromJson, toJson } from './json';
import type { Rows } from './store';

/** Something that is kept with a title; a change tells which version it was made on. */
export interface KeptDocument<Body> {
  id: number;
  title: string;
  version: number;
  savedAt: string;
  body: Body;
}
type NewDocument<Body> = Pick<KeptDocument<Body>, 'title' | 'body'>;

interface DocumentRow {
  id: number;
  title: string;
  body: string;
  version: number;
  saved_at: number;
  tape_key: string;
}
/** What a list tells of a document, where its kind keeps that beside the body. */
interface SummaryRow extends Omit<DocumentRow, 'body'> {
  summary: string;
}

const anyOf: Knex.QueryCallback = () => undefined;

const tapeKeyOf = (name: string): string => name.toLowerCase();

/** Documents of one kind: a table that holds their bodies as JSON, found by the tape that each is about. */
export class Documents<Body extends object> {
  /**
   * @param read     a body as it is kept; one of an earlier day gets the usual values for what has come since
   * @param tapeOf   the tape that a body is about
   * @param summaryOf  what a list tells of a body, kept beside it, for kinds whose bodies are large; nothing else is read for a list
   * @param renamed  a body after a tape has got another name; nothing where it does not speak of it
   */
  constructor(
    private readonly table: string,
    private readonly read: (body: unknown) => Body,
    private readonly tapeOf: (body: Body) => string,
    private readonly renamed: (body: Body, from: string, to: string) => Body | undefined,
    private readonly summaryOf?: (body: Body) => object,
  ) {}

  /** All of them, or those that are wanted; the one saved last first. */
  async list(rows: Rows, wanted: Knex.QueryCallback = anyOf): Promise<KeptDocument<Body>[]> {
    const found = await rows<DocumentRow>(this.table).where(wanted).orderBy('saved_at', 'desc');
    return found.map((row) => this.document(row));
  }

  /** What a list tells of all of them, the one saved last first; without their bodies. */
  async summaries(rows: Rows): Promise<(Omit<KeptDocument<Body>, 'body'> & { summary: unknown })[]> {
    const columns = ['id', 'title', 'version', 'saved_at', 'summary'] as const;
    const found = await rows<SummaryRow>(this.table)
      .select(...columns)
      .orderBy('saved_at', 'desc');
    return found.map(({ id, title, version, saved_at, summary }) => ({
      ...{ id, title, version, savedAt: rfc3339(saved_at) },
      summary: fromJson(summary),
    }));
  }

  /** The one that was saved last of those that are wanted; of a tape, if one is named. */
  async last(rows: Rows, tape?: string, wanted: Knex.QueryCallback = anyOf): Promise<KeptDocument<Body> | undefined> {
    const all = rows<DocumentRow>(this.table).where(wanted).orderBy('saved_at', 'desc');
    const row = await (tape === undefined ? all : all.where({ tape_key: tapeKeyOf(tape) })).first();
    return row && this.document(row);
  }

  async find(rows: Rows, id: number): Promise<KeptDocument<Body> | undefined> {
    const row = await rows<DocumentRow>(this.table).where({ id }).first();
    return row && this.document(row);
  }

  async insert(rows: Rows, { title, body }: NewDocument<Body>, savedAt: number): Promise<KeptDocument<Body>> {
    const row = { ...this.fields({ title, body }), version: 1, saved_at: savedAt };
    const [{ id }] = await rows<DocumentRow>(this.table).insert(row).returning('id');
    return this.document({ id, ...row });
  }

  /** Saves a change if it was made on the version that is stored. Nothing where it was not, or there is no such document. */
  async update(
    rows: Rows,
    id: number,
    change: NewDocument<Body> & { version: number },
    savedAt: number,
  ): Promise<KeptDocument<Body> | undefined> {
    const { version } = change;
    const row = { ...this.fields(change), version: version + 1, saved_at: savedAt };
    const changed = await rows<DocumentRow>(this.table).where({ id, version }).update(row);
    return changed === 1 ? this.document({ id, ...row }) : undefined;
  }

  /** Documents follow a tape that gets another name. */
  async rename(rows: Rows, from: string, to: string): Promise<void> {
    for (const { id, title, body, version } of await this.list(rows)) {
      const renamed = this.renamed(body, from, to);
      if (!renamed) continue;
      await rows<DocumentRow>(this.table)
        .where({ id })
        .update({ ...this.fields({ title, body: renamed }), version: version + 1 });
    }
  }

  /** Takes one away if it is at a version. Nothing where it is not, or there is no such document. */
  async remove(rows: Rows, id: number, version: number): Promise<boolean> {
    return (await rows<DocumentRow>(this.table).where({ id, version }).delete()) > 0;
  }

  private readonly fields = ({ title, body }: NewDocument<Body>) => ({
    title,
    body: toJson(body),
    tape_key: tapeKeyOf(this.tapeOf(body)),
    ...(this.summaryOf && { summary: toJson(this.summaryOf(body)) }),
  });

  private document({ id, title, body, version, saved_at }: Omit<DocumentRow, 'tape_key'>): KeptDocument<Body> {
    return { id, title, version, savedAt: rfc3339(saved_at), body: this.read(fromJson(body)) };
  }
}

/** Whether two names are of the same tape. */
export const isSameTape = (a: string, b: string): boolean => tapeKeyOf(a) === tapeKeyOf(b);
