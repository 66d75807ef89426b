import { createWriteStream, writeFileSync } from 'node:fs';
import { once } from 'node:events';
import { gzipSync } from 'node:zlib';
import type { Table } from '@jaunty-ledger/files/tables/table';
import { TEXT_FORMATS, writeText, type TextFormat } from '@jaunty-ledger/files/tables/textTables';

export const OUTPUT_FORMATS = ['csv', 'json', 'ndjson', 'parquet', 'arrow'] as const;
export type OutputFormat = (typeof OUTPUT_FORMATS)[number];

/** The format that the name of a file tells; CSV where it tells none. */
function formatOf(file: string | undefined): OutputFormat {
  const ending = /\.(csv|json|ndjson|jsonl|parquet|arrow|arrows)(\.gz)?$/i.exec(file ?? '')?.[1].toLowerCase();
  if (ending === 'jsonl') return 'ndjson';
  if (ending === 'arrows') return 'arrow';
  return OUTPUT_FORMATS.find((format) => format === ending) ?? 'csv';
}

/** Writes a table to a file, packed where its name says so, or to standard output. */
export async function putTable(
  table: Table,
  out: string | undefined,
  format = formatOf(out),
  about: Record<string, unknown> = {},
): Promise<void> {
  if (isText(format)) return putBytes(writeText(table, format, { about }), out);
  // their packages take a while to load
  const { writeTable } = await import('@jaunty-ledger/files/tables/tableWriter');
  await putBytes(writeTable(table, { format, about }), out);
}

const isText = (format: OutputFormat): format is TextFormat => (TEXT_FORMATS as readonly string[]).includes(format);

async function putBytes(bytes: Uint8Array, out: string | undefined): Promise<void> {
  if (out !== undefined && out !== '-') return writeFileSync(out, out.endsWith('.gz') ? gzipSync(bytes) : bytes);
  // the pipe may be slow, or be closed early, as by `head`
  const stream = createWriteStream('', { fd: 1, autoClose: false });
  stream.on('error', (error: NodeJS.ErrnoException) => {
    if (error.code === 'EPIPE') process.exit(0);
    throw error;
  });
  stream.end(bytes);
  await once(stream, 'finish');
}

export const putText = (text: string, out?: string): Promise<void> => putBytes(new TextEncoder().encode(text), out);
