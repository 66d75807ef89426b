import { createHash } from 'node:crypto';
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { migrations } from '../store/migrations/migrations';
import type { PlainRow } from '../store/whole';
import { KeepingError } from './keepingError';

/*
 * A backup is a folder: `backup.json`, which says what there is and is written last; `tables/`, the rows of each table as
 * JSON; and a folder for each tape, with its row as JSON and its records as Parquet, a file for every few chunks.
 */

export const FORMAT = 'jaunty-ledger backup';

export const Contents = z.object({
  format: z.literal(FORMAT),
  /** The last step of the tables that it was made with. */
  tables: z.string(),
  madeAt: z.string(),
  /** SHA-256 of each file. */
  sums: z.record(z.string(), z.string()),
  tapes: z.array(
    z.object({
      id: z.number().int(),
      name: z.string(),
      rows: z.number(),
      files: z.number().int(),
      /** Of all columns of its records. */
      sha256: z.string(),
    }),
  ),
});
export type Contents = z.infer<typeof Contents>;

const PlainRows = z.array(
  z.record(z.string(), z.union([z.string(), z.number(), z.null(), z.object({ base64: z.string() })])),
);

const sha256 = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** The files of a backup, each with the sum by which it is known again. */
export class BackupFiles {
  constructor(
    private readonly folder: string,
    readonly sums: Record<string, string> = {},
  ) {}

  async write(path: string, bytes: Uint8Array): Promise<void> {
    this.sums[path] = sha256(bytes);
    await writeFile(join(this.folder, path), bytes);
  }

  /** @throws {KeepingError} where the file is not what was written */
  async read(path: string): Promise<Uint8Array> {
    const bytes = await readFile(join(this.folder, path)).catch(() => undefined);
    if (!bytes) throw new KeepingError(`${path} of the backup is missing, or cannot be read.`);
    if (sha256(bytes) !== this.sums[path]) throw new KeepingError(`${path} of the backup is damaged.`);
    return bytes;
  }

  async writeRows(path: string, list: readonly PlainRow[]): Promise<void> {
    const plain = list.map((row) =>
      Object.fromEntries(
        Object.entries(row).map(([name, value]) => [
          name,
          Buffer.isBuffer(value) ? { base64: value.toString('base64') } : value,
        ]),
      ),
    );
    await this.write(path, Buffer.from(JSON.stringify(plain, undefined, 1)));
  }

  /** @throws {KeepingError} as `read` */
  async readRows(path: string): Promise<PlainRow[]> {
    const plain = PlainRows.parse(JSON.parse(new TextDecoder().decode(await this.read(path))));
    return plain.map((row) =>
      Object.fromEntries(
        Object.entries(row).map(([name, value]) => [
          name,
          typeof value === 'object' && value !== null ? Buffer.from(value.base64, 'base64') : value,
        ]),
      ),
    );
  }
}

/** The last step of the tables of this version. */
export const lastTables = async (): Promise<string> => (await migrations.getMigrations([])).at(-1)!;

export const tapeFolder = (id: number): string => join('tapes', String(id));
export const tableFile = (table: string): string => join('tables', `${table}.json`);
export const recordsFile = (file: number): string => `records-${String(file).padStart(5, '0')}.parquet`;
