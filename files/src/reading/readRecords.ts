import { FileError } from '../fileError.js';
import type { FileLimits } from '../fileLimits.js';
import { asUtf8, type Unpacking } from '../formats/decoding.js';
import { DelimitedRows, type RowSource } from '../formats/delimitedRows.js';
import type { FileCopy } from '../formats/fileCopy.js';
import { openFileText } from '../formats/fileText.js';
import { JsonLines, JsonValue, MOST_COLUMN_BYTES } from '../formats/jsonRows.js';
import type { LineTaker } from '../records/recordReader.js';
import { turned } from './across.js';
import { proposeReading, requireDecided, requireUsable } from './proposeReading.js';
import { isDelimited, type Reading, type ReadingChoices } from './reading.js';

/** Bytes that the reading is proposed from. */
const SAMPLE_BYTES = 1 << 18;

/** How a file is read, and who takes what is in it. */
export interface RecordsAsked {
  choices: ReadingChoices;
  limits: FileLimits;
  /** Makes whoever takes the lines, by the reading that was found. */
  start: (reading: Reading, names: readonly string[]) => LineTaker;
  /** Called between stretches, with bytes that are read through where they are at hand; what it throws ends the reading. */
  between: (through?: Uint8Array) => Promise<void>;
  /** Lays a file down, where it is read from any place, or once more. */
  layDown: () => Promise<FileCopy>;
  /** Whether its lines may be asked for once more. */
  isReadAgain: () => boolean;
}

/** A file that was read. */
export interface RecordsRead {
  lines: number;
  /** Hands its lines on once more, where that was asked for or can be. */
  again: (taker: LineTaker, between: () => Promise<void>) => Promise<void>;
}

export const unpackingOf = ({ growth, uploadMegabytes }: FileLimits): Unpacking => ({
  growth,
  mostBytes: uploadMegabytes * 2 ** 20,
});

/**
 * Reads a whole file of any format, by choices over what is found in its first bytes.
 * @throws {FileError} where it cannot be read
 */
export async function readRecords(file: AsyncIterable<Uint8Array>, asked: RecordsAsked): Promise<RecordsRead> {
  const { limits, start, between } = asked;
  const text = await openFileText(file, unpackingOf(limits), asked.choices.sheet);
  const plain = text.chunks[Symbol.asyncIterator]();
  const choices = { ...asked.choices, ...text.own };
  let sample = await sampleOf(plain, SAMPLE_BYTES);
  if (isColumnar(sample)) return readAnywhere(sample, plain, asked);
  let proposal = await proposeReading(sample, choices, limits, sample.length < SAMPLE_BYTES);
  if (proposal.reading.layout !== 'rows' && sample.length >= SAMPLE_BYTES) {
    // the second column, or the last item, may begin beyond what was looked at
    sample = await sampleOf(plain, MOST_COLUMN_BYTES, sample);
    proposal = await proposeReading(sample, choices, limits, true);
  }
  const { reading, names } = proposal;
  requireDecided(proposal);
  requireUsable(reading, names);
  const whole = reading.layout === 'across' ? turnedText(withFirst(sample, plain), reading) : withFirst(sample, plain);
  const records = start(reading, names);
  const copy = asked.isReadAgain() ? await asked.layDown() : undefined;
  const lines = await readLines(copy?.keep(whole) ?? whole, reading, names, records, between);
  return {
    lines,
    again: async (taker, told) => {
      if (!copy) throw new Error('the file was not laid down');
      await readLines(copy.again(), reading, names, taker, told);
    },
  };
}

const isColumnar = (sample: Uint8Array): boolean =>
  /^(PAR1|ARROW1|\xff\xff\xff\xff)/.test(new TextDecoder('latin1').decode(sample.subarray(0, 8)));

async function readLines(
  chunks: AsyncIterable<Uint8Array>,
  reading: Reading,
  names: readonly string[],
  taker: LineTaker,
  between: (through: Uint8Array) => Promise<void>,
): Promise<number> {
  const rows: RowSource = isDelimited(reading.format)
    ? new DelimitedRows(reading, taker)
    : reading.format === 'json'
      ? new JsonValue(taker, names, reading)
      : new JsonLines(taker, names);
  // what was turned is UTF-8 already
  const encoding = reading.layout === 'across' ? 'utf-8' : reading.encoding;
  for await (const chunk of asUtf8(chunks, encoding)) {
    await rows.push(chunk);
    await between(chunk);
  }
  await rows.end();
  return rows.lines;
}

/** Parquet and Arrow are read from any place in them, so the file is laid down first. */
async function readAnywhere(
  sample: Uint8Array,
  rest: AsyncIterator<Uint8Array>,
  { choices, limits, start, between, layDown }: RecordsAsked,
): Promise<RecordsRead> {
  // large, and few files need them
  const { openColumnar, readColumnar } = await import('../formats/columnarRows.js');
  const copy = await layDown();
  for await (const _ of copy.keep(withFirst(sample, rest)));
  const format: 'parquet' | 'arrow' =
    new TextDecoder('latin1').decode(sample.subarray(0, 4)) === 'PAR1' ? 'parquet' : 'arrow';
  const from = { byteLength: copy.byteLength, slice: (first: number, end?: number) => copy.slice(first, end) };
  const file = await openColumnar(format, from, unpackingOf(limits));
  const head: string[][] = [];
  for await (const row of file.rows(400)) head.push(row);
  const csv = [file.names, ...head]
    .map((row) => row.map((cell) => `"${cell.replaceAll('"', '""')}"`).join(','))
    .join('\n');
  const proposal = await proposeReading(
    new TextEncoder().encode(`${csv}\n\n`),
    { ...choices, format: 'delimited', delimiter: ',', header: true, skip: 0 },
    limits,
  );
  requireDecided(proposal);
  const reading: Reading = { ...proposal.reading, format };
  requireUsable(reading, file.names);
  const records = start(reading, file.names);
  const lines = await readColumnar(file, records, between);
  return {
    lines,
    again: async (taker, told) => {
      await readColumnar(file, taker, told);
    },
  };
}

/** The first bytes of a file, a chunk more than asked at most; after those that are there already. */
async function sampleOf(
  chunks: AsyncIterator<Uint8Array>,
  asked: number,
  before: Uint8Array = new Uint8Array(0),
): Promise<Uint8Array> {
  const parts = [before];
  let bytes = before.length;
  while (bytes < asked) {
    const next = await chunks.next();
    if (next.done) break;
    parts.push(next.value);
    bytes += next.value.length;
  }
  return new Uint8Array(Buffer.concat(parts));
}

/** The text of a table with its periods across as one with a row for each. @throws {FileError} where it is too long for that */
async function* turnedText(
  chunks: AsyncIterable<Uint8Array>,
  { encoding, delimiter }: Reading,
): AsyncGenerator<Uint8Array> {
  const parts: Uint8Array[] = [];
  let bytes = 0;
  for await (const part of chunks) {
    bytes += part.length;
    if (bytes > MOST_COLUMN_BYTES)
      throw new FileError(
        'too-large',
        'A table with its periods across is read up to 64 MB. Is it one? Say `layout=rows` if not.',
      );
    parts.push(part);
  }
  const text = new TextDecoder(encoding).decode(Buffer.concat(parts)).replace(/^\uFEFF/, '');
  yield new TextEncoder().encode(turned(text, delimiter));
}

async function* withFirst(first: Uint8Array, rest: AsyncIterator<Uint8Array>): AsyncGenerator<Uint8Array> {
  yield first;
  for (let next = await rest.next(); !next.done; next = await rest.next()) yield next.value;
}
