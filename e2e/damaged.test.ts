import { gzipSync } from 'node:zlib';
import { tableFromArrays, tableToIPC } from 'apache-arrow';
import fc from 'fast-check';
import { zipSync } from 'fflate';
import { parquetWriteBuffer } from 'hyparquet-writer';
import { describe, expect, it } from 'vitest';
import { day, workbook } from '../files/test/workbook';
import { origin } from './ownServer';

/* A file that is damaged, wherever and however, is read, read in part, or refused: never a failure of ours. */

const ROWS = 300;
const time = Array.from({ length: ROWS }, (_, row) => 1_770_021_000 + row * 7);
const price = time.map((_, row) => (8000 + ((row * 7919) % 400)) / 100);
const venue = time.map((_, row) => ['North Quay', 'Bell "House"', 'é'][row % 3]);
const quoted = (text: string) => `"${text.replaceAll('"', '""')}"`;
const csv = `time,price,venue\n${time.map((at, row) => `${at},${price[row]},${quoted(venue[row])}`).join('\n')}\n`;
const plain = `time,price,size\n${time.map((at, row) => `${new Date(at * 1000).toISOString()},${price[row]},${row}`).join('\n')}\n`;
const records = time.map((at, row) => ({ time: at, price: price[row], venue: venue[row] }));
const bytes = (text: string) => new TextEncoder().encode(text);
const table = tableFromArrays({ time: Float64Array.from(time), price: Float64Array.from(price), venue });

const FILES: Record<string, Uint8Array> = {
  'plain lines': bytes(plain),
  'quoted lines': bytes(csv),
  'UTF-16': new Uint8Array(Buffer.from(`\uFEFF${csv}`, 'utf16le')),
  'a JSON array': bytes(JSON.stringify(records)),
  'JSON lines': bytes(records.map((record) => JSON.stringify(record)).join('\n')),
  Parquet: new Uint8Array(
    parquetWriteBuffer({
      columnData: [
        { name: 'time', data: time, type: 'DOUBLE' },
        { name: 'price', data: price, type: 'DOUBLE' },
        { name: 'venue', data: venue, type: 'STRING' },
      ],
    }),
  ),
  'an Arrow stream': tableToIPC(table, 'stream'),
  'an Arrow file': tableToIPC(table, 'file'),
  gzip: new Uint8Array(gzipSync(csv)),
  zip: zipSync({ 'trades.csv': bytes(csv) }),
  'a spreadsheet': workbook({
    Closes: [['Day', 'Close'], ...price.slice(0, 60).map((close, row) => [day(46_027 + row), close])],
  }),
  'periods across': bytes(`item,${[2019, 2020, 2021, 2022].join()}\nkelp,1,2,3,4\nsalt,"1,000",,n/a,(5)\n`),
};

/** One way to damage bytes, at a place that is a share of them. */
const damage = fc.record({
  what: fc.constantFrom('flip', 'zero', 'cut', 'drop', 'repeat', 'insert'),
  at: fc.double({ min: 0, max: 1, noNaN: true, maxExcluded: true }),
  length: fc.integer({ min: 1, max: 64 }),
  byte: fc.integer({ min: 0, max: 255 }),
});

function damaged(
  file: Uint8Array,
  { what, at, length, byte }: typeof damage extends fc.Arbitrary<infer D> ? D : never,
) {
  const from = Math.floor(at * file.length);
  const [head, part, tail] = [file.subarray(0, from), file.subarray(from, from + length), file.subarray(from + length)];
  switch (what) {
    case 'flip':
      return Buffer.concat([head, part.map((old) => old ^ (byte || 1)), tail]);
    case 'zero':
      return Buffer.concat([head, new Uint8Array(part.length), tail]);
    case 'cut':
      return Buffer.from(head);
    case 'drop':
      return Buffer.concat([head, tail]);
    case 'repeat':
      return Buffer.concat([head, part, part, tail]);
    default:
      return Buffer.concat([head, new Uint8Array(length).fill(byte), part, tail]);
  }
}

interface Entered {
  name?: string;
  tapes?: { name: string }[];
}

async function expectNoFailure(answer: Response): Promise<void> {
  const text = await answer.text();
  expect(answer.status, text.slice(0, 400)).toBeLessThan(500);
}

async function tryToEnter(file: Uint8Array): Promise<void> {
  const body = new Uint8Array(file);
  const answer = await fetch(`${origin}/api/tapes?name=DAMAGED`, { method: 'POST', body });
  const entered = answer.status === 201 ? ((await answer.clone().json()) as Entered) : undefined;
  await expectNoFailure(answer);
  const head = Buffer.from(file).toString('base64');
  const asked = JSON.stringify({ head, tail: '', choices: {}, zone: 'UTC' });
  await expectNoFailure(await fetch(`${origin}/api/readings`, { method: 'POST', body: asked }));
  // what is left of a file may make several tapes
  for (const { name } of entered?.tapes ?? (entered ? [entered as { name: string }] : []))
    expect((await fetch(`${origin}/api/tapes/${name}`, { method: 'DELETE' })).status).toBe(204);
}

describe.each(Object.keys(FILES))('%s', (format) => {
  it('is read as it stands', () => tryToEnter(FILES[format]));

  // a seed that is kept: a failure comes back with the next run, and further seeds are for the bench of patience
  it('is read or refused, whatever has happened to it', () =>
    fc.assert(
      fc.asyncProperty(fc.array(damage, { minLength: 1, maxLength: 4 }), (damages) =>
        tryToEnter(damages.reduce<Uint8Array>((file, one) => damaged(file, one), FILES[format])),
      ),
      { numRuns: Number(process.env.FUZZ_RUNS ?? 20), seed: Number(process.env.FUZZ_SEED ?? 20_261_127) },
    ));
});

it.each([
  ['arrays', '['.repeat(50_000)],
  ['objects', '{"a":'.repeat(50_000)],
  ['arrays that close', `[${'['.repeat(50_000)}${']'.repeat(50_000)}]`],
  ['fields that nest', `[{"time":1770021000,"price":${'['.repeat(50_000)}1${']'.repeat(50_000)}}]`],
  ['lines that nest', `{"time":1770021000,"price":1,"x":${'{"a":'.repeat(20_000)}1${'}'.repeat(20_000)}}\n`.repeat(5)],
])('JSON of %s, 50,000 deep, is refused', (_, text) => tryToEnter(bytes(text)));

it('an iCalendar file that is damaged is read, read in part, or refused', async () => {
  const whole = bytes(
    ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//made up//EN', 'BEGIN:VEVENT', 'UID:1', 'DTSTAMP:20260101T000000Z']
      .concat([
        'DTSTART;VALUE=DATE:20251226',
        'RRULE:FREQ=YEARLY;COUNT=3',
        'SUMMARY:closed',
        'END:VEVENT',
        'END:VCALENDAR',
        '',
      ])
      .join('\r\n'),
  );
  await fc.assert(
    fc.asyncProperty(damage, async (how) => {
      const icalendar = new TextDecoder().decode(damaged(whole, how));
      const body = JSON.stringify({ zone: 'UTC', icalendar });
      const { status } = await fetch(`${origin}/api/calendars/DAMAGED`, { method: 'PUT', body });
      expect([200, 400, 413, 422]).toContain(status);
    }),
    { numRuns: Number(process.env.FUZZ_RUNS ?? 30) },
  );
});
