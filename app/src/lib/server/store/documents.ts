import type { Knex } from 'knex';
import { rfc3339 } from '@jaunty-ledger/core';
import { fromJson, toJson } from './json';
import { containing, pageOf, type ListPage, type ListRange } from './listPages';
import type { Rows, Wanted } from './store';

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
/** A document that refers to its tape by id. */
interface TapeReference {
  tape_id: number | null;
  /** The last name of a tape that is gone. */
  tape_name: string | null;
}

const anyOf: Wanted = () => undefined;

const tapeKeyOf = (name: string): string => name.toLowerCase();

/** How documents follow a tape that gets another name. */
type Following<Body> =
  /** They refer to it by id: a body is read with the name that the tape has by then. */
  | { withTape: (body: Body, name: string) => Body }
  /** Their bodies are written again: undefined where one does not speak of the tape. */
  | { renamed: (body: Body, from: string, to: string) => Body | undefined };

interface DocumentsOptions<Body> {
  table: string;
  /** Reads a body as it is kept; one of an earlier day gets the usual values for what has come since. */
  read: (body: unknown) => Body;
  /** The tape that a body is about. */
  tapeOf: (body: Body) => string;
  following: Following<Body>;
  /** What a list tells of a body, kept beside it, for kinds whose bodies are large; nothing else is read for a list. */
  summaryOf?: (body: Body) => object;
}

/** Documents of one kind: a table that holds their bodies as JSON, found by the tape that each is about. */
export class Documents<Body extends object> {
  private readonly table: string;
  private readonly refersById: boolean;

  constructor(private readonly options: DocumentsOptions<Body>) {
    this.table = options.table;
    this.refersById = 'withTape' in options.following;
  }

  /** All of them, or those that are wanted; the one saved last first. */
  async list(rows: Rows, wanted: Wanted = anyOf, limit?: number): Promise<KeptDocument<Body>[]> {
    const query = this.documents(rows).where(wanted).orderBy(this.ordered);
    const found = await (limit === undefined ? query : query.limit(limit));
    return found.map((row) => this.document(row));
  }

  /** A stretch of those that are wanted, the one saved last first. */
  async listPage(rows: Rows, range: ListRange, wanted: Wanted = anyOf): Promise<ListPage<KeptDocument<Body>>> {
    const page = await pageOf(this.documents(rows).where(wanted), range, this.sortKeys);
    return { ...page, items: page.items.map((row) => this.document(row)) };
  }

  /** What a list tells of a stretch of those that are wanted, the one saved last first; without their bodies. */
  async summaries(
    rows: Rows,
    range: ListRange,
    wanted: Wanted = anyOf,
  ): Promise<ListPage<Omit<KeptDocument<Body>, 'body'> & { summary: unknown }>> {
    const columns = (['id', 'title', 'version', 'saved_at', 'summary'] as const).map((name) => `${this.table}.${name}`);
    const query = rows<SummaryRow>(this.table).where(wanted).select(columns) as unknown as Knex.QueryBuilder<
      SummaryRow,
      SummaryRow[]
    >;
    const page = await pageOf(query, range, this.sortKeys);
    const items = page.items.map(({ id, title, version, saved_at, summary }) => ({
      ...{ id, title, version, savedAt: rfc3339(saved_at) },
      summary: fromJson(summary),
    }));
    return { ...page, items };
  }

  /** The one that was saved last of those that are wanted; of a tape, if one is named. */
  async last(rows: Rows, tape?: string, wanted: Wanted = anyOf): Promise<KeptDocument<Body> | undefined> {
    const all = this.documents(rows).where(wanted).orderBy(this.ordered);
    const row = await (tape === undefined ? all : all.where(this.about(rows, tape))).first();
    return row && this.document(row);
  }

  /** Leaves those that are about the tape of a name. */
  about(rows: Rows, tape: string): Wanted {
    const [key, table] = [tapeKeyOf(tape), this.table];
    if (!this.refersById) return (query) => void query.where(`${table}.tape_key`, key);
    return (query) =>
      void query
        .where(`${table}.tape_id`, rows('tape').where({ name_key: key }).select('id'))
        .orWhere((other) => void other.whereNull(`${table}.tape_id`).where(`${table}.tape_key`, key));
  }

  /** Leaves those whose title has some words in it. */
  titled = (words: string): Wanted => {
    const bindings = [`${this.table}.title`, containing(words)];
    return (query) => void query.whereRaw(`lower(??) like ? escape '\\'`, bindings);
  };

  async find(rows: Rows, id: number): Promise<KeptDocument<Body> | undefined> {
    const row = await this.documents(rows).where(`${this.table}.id`, id).first();
    return row && this.document(row);
  }

  async insert(rows: Rows, { title, body }: NewDocument<Body>, savedAt: number): Promise<KeptDocument<Body>> {
    const row = { ...(await this.fields(rows, { title, body })), version: 1, saved_at: savedAt };
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
    const row = { ...(await this.fields(rows, change)), version: version + 1, saved_at: savedAt };
    const changed = await rows<DocumentRow>(this.table).where({ id, version }).update(row);
    return changed === 1 ? this.document({ id, ...row }) : undefined;
  }

  /** Documents follow a tape that gets another name. Called before the tape has it. */
  async rename(rows: Rows, from: string, to: string): Promise<void> {
    const { following } = this.options;
    if ('withTape' in following) {
      // those of a backup of an earlier day do not know their tape by id yet
      await rows<DocumentRow & TapeReference>(this.table)
        .whereNull('tape_id')
        .where({ tape_key: tapeKeyOf(from) })
        .update({ tape_id: rows.raw('(select id from tape where name_key = ?)', [tapeKeyOf(from)]) });
      return;
    }
    for (const { id, title, body, version } of await this.list(rows)) {
      const renamed = following.renamed(body, from, to);
      if (!renamed) continue;
      await rows<DocumentRow>(this.table)
        .where({ id })
        .update({ ...(await this.fields(rows, { title, body: renamed })), version: version + 1 });
    }
  }

  /** Takes one away if it is at a version. Nothing where it is not, or there is no such document. */
  async remove(rows: Rows, id: number, version: number): Promise<boolean> {
    return (await rows<DocumentRow>(this.table).where({ id, version }).delete()) > 0;
  }

  private get ordered() {
    return this.sortKeys.map((column) => ({ column, order: 'desc' }) as const);
  }

  private get sortKeys() {
    return [`${this.table}.saved_at`, `${this.table}.id`] as const;
  }

  private documents(rows: Rows): Knex.QueryBuilder<FoundRow, FoundRow[]> {
    const query = rows<FoundRow>(this.table).select(`${this.table}.*`);
    const joined = this.refersById
      ? query.leftJoin('tape', 'tape.id', `${this.table}.tape_id`).select('tape.name as tape_now')
      : query;
    return joined as unknown as Knex.QueryBuilder<FoundRow, FoundRow[]>;
  }

  private async fields(rows: Rows, { title, body }: NewDocument<Body>) {
    const { tapeOf, summaryOf } = this.options;
    const tape_key = tapeKeyOf(tapeOf(body));
    const row = { title, body: toJson(body), tape_key, ...(summaryOf && { summary: toJson(summaryOf(body)) }) };
    if (!this.refersById) return row;
    const found = await rows<{ id: number; name_key: string }>('tape').where({ name_key: tape_key }).first('id');
    return { ...row, tape_id: found?.id ?? null, tape_name: null };
  }

  private document({ id, title, body, version, saved_at, ...row }: FoundRow): KeptDocument<Body> {
    const { read, following } = this.options;
    const name = row.tape_now ?? row.tape_name;
    const found = read(fromJson(body));
    const named = name && 'withTape' in following ? following.withTape(found, name) : found;
    return { id, title, version, savedAt: rfc3339(saved_at), body: named };
  }
}

type FoundRow = Omit<DocumentRow, 'tape_key'> & Partial<TapeReference> & { tape_now?: string | null };

/** Whether two names are of the same tape. */
export const isSameTape = (a: string, b: string): boolean => tapeKeyOf(a) === tapeKeyOf(b);
