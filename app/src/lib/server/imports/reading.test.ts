import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { tableFromArrays, tableToIPC } from 'apache-arrow';
import fc from 'fast-check';
import { zipSync } from 'fflate';
import { parquetWriteBuffer } from 'hyparquet-writer';
import { afterAll, describe, expect, it } from 'vitest';
import { CHECKS } from '@jaunty-ledger/files/checks/checks';
import type { ReadingChoices } from '@jaunty-ledger/files/reading/reading';
import { FileError } from '@jaunty-ledger/files/fileError';
import { Refusal, type Problem } from '$lib/api/problems';
import { problemOf } from '../http/problem';
import { ImportQuery } from '$lib/api/tapes';
import type { RecordColumns } from '@jaunty-ledger/files/records/recordColumns';
import { FileImport } from './fileImport';
import { readNumber, readStyledNumber } from '@jaunty-ledger/files/records/numberText';
import { readLimits } from '../limits';

const folder = mkdtempSync(join(tmpdir(), 'jaunty-reading-'));
afterAll(() => rmSync(folder, { recursive: true }));

const NOW = Date.parse('2030-01-01T00:00Z') * 1000;
const encode = (text: string) => new TextEncoder().encode(text);
const at = (text: string) => Date.parse(text) * 1000;

/** Reads a file that comes in pieces, as an import does, and gives what would be entered. */
async function read(
  file: string | Uint8Array,
  parameters: Record<string, string> = {},
  pieceBytes = 1 << 16,
  limits = {},
) {
  const bytes = typeof file === 'string' ? encode(file) : file;
  const query = ImportQuery.parse({ name: 'T', zone: 'Atlantic/Faroe', ...parameters });
  const choices = Object.fromEntries(
    Object.entries(query).filter(([name]) => name in parameters && !['zone', 'session', 'checks'].includes(name)),
  ) as ReadingChoices;
  const incoming = new FileImport(folder, query, choices, NOW, readLimits(limits));
  try {
    await incoming.read(
      (async function* () {
        for (let from = 0; from < bytes.length; from += pieceBytes) yield bytes.slice(from, from + pieceBytes);
      })(),
      () => undefined,
    );
    const tapes: Record<string, RecordColumns[]> = {};
    for (const { name, records } of incoming.tapes) {
      tapes[name] = [];
      for await (const block of records.read()) tapes[name].push(block);
    }
    const [first] = incoming.tapes;
    const { findings, reading, leftOutCount } = incoming.report({ bytes: bytes.length, sha256: '' }, first);
    const { interval } = first.writer.found();
    return { tapes, findings, reading: reading!, leftOutCount, leftOut: incoming.leftOut(first), interval };
  } finally {
    await incoming.close();
  }
}

/** The rows of the only tape, of the columns that are named. */
async function rowsOf(file: string | Uint8Array, columns: string[], parameters: Record<string, string> = {}) {
  const { tapes } = await read(file, parameters);
  const [part] = tapes.T;
  return Array.from(part.time, (_, row) => columns.map((name) => part[name][row]));
}

const refusalOf = (file: string | Uint8Array, parameters = {}): Promise<Problem | undefined> =>
  read(file, parameters).then(
    () => undefined,
    (error: unknown) => {
      if (error instanceof Refusal || error instanceof FileError) return problemOf(error);
      throw error;
    },
  );

const one = ['time', 'price', 'size'];
const record = [at('2026-02-02T08:30:00Z'), 84.2, 15];

describe('a file of trades is read as it stands', () => {
  const csv = 'time,price,size\n2026-02-02T08:30:00Z,84.2,15\n';
  it.each([
    ['with a header', csv],
    ['without', '2026-02-02T08:30:00Z,84.2,15\n'],
    ['with columns in another order and more of them', 'venue,qty,last,timestamp\nX,15,84.2,2026-02-02T08:30:00Z\n'],
    ['of semicolons, with decimal commas', 'time;price;size\n2026-02-02T08:30:00Z;84,2;15\n'],
    ['of tabs, with CRLF and a byte order mark', '\uFEFFtime\tprice\tsize\r\n2026-02-02T08:30:00Z\t84.2\t15\r\n'],
    ['of bars, without a last line end', 'time|price|size\n2026-02-02T08:30:00Z|84.2|15'],
    ['with lone returns', 'time,price,size\r2026-02-02T08:30:00Z,84.2,15\r'],
    [
      'with quotes and a line end within one',
      '"time","note","price","size"\n"2026-02-02T08:30:00Z","two\nlines","84.2","15"\n',
    ],
    ['with epoch times and empty lines', '\n1770021000,84.2,15\n\n'],
    ['with spaces and local times', '2026-02-02 08:30:00 , 84.20 , 15\n'],
    ['with the day first', 'date,time,price,size\n02.02.2026,08:30,84.2,15\n'],
    ['with the month first and the hour of twelve', 'time,price,size\n2/2/2026 8:30 AM,84.2,15\n'],
    ['with currency signs', 'time,price,size\n2026-02-02T08:30:00Z,€84.20,15\n'],
    ['as JSON lines', '{"time":"2026-02-02T08:30:00Z","price":84.2,"size":15}\n'],
    ['as a JSON array of objects', '[{"time":"2026-02-02T08:30:00Z","price":84.2,"size":15}]'],
    ['as a JSON array of arrays', '[\n["2026-02-02T08:30:00Z", 84.2, 15]\n]'],
    ['in UTF-16', new Uint8Array(Buffer.from(`\uFEFF${csv}`, 'utf16le'))],
    [
      'in Latin-1',
      new Uint8Array(Buffer.from('time,pris,st\u00f8rrelse,size\n2026-02-02T08:30:00Z,84.2,x,15\n', 'latin1')),
    ],
    ['gzipped', new Uint8Array(gzipSync(csv))],
    ['in a zip', zipSync({ 'trades.csv': encode(csv) })],
    [
      'in Parquet',
      new Uint8Array(
        parquetWriteBuffer({
          columnData: [
            { name: 'time', data: ['2026-02-02T08:30:00Z'] },
            { name: 'price', data: [84.2] },
            { name: 'size', data: [15] },
          ],
        }),
      ),
    ],
    [
      'in an Arrow stream',
      tableToIPC(tableFromArrays({ time: ['2026-02-02T08:30:00Z'], price: [84.2], size: [15] }), 'stream'),
    ],
    [
      'in an Arrow file',
      tableToIPC(tableFromArrays({ time: ['2026-02-02T08:30:00Z'], price: [84.2], size: [15] }), 'file'),
    ],
  ])('%s', async (_, file) => expect(await rowsOf(file, one)).toEqual([record]));

  it('of large numbers with thousands marks', async () =>
    expect(await rowsOf('time;price;size\n2026-02-02T08:30:00Z;1.084,20;12.000\n', one)).toEqual([
      [record[0], 1084.2, 12000],
    ]));

  it('whatever is chosen goes before what is found', async () =>
    expect(
      await rowsOf('a,b,c\n03/02/2026,5,84.2\n', one, {
        header: 'yes',
        dateOrder: 'day-first',
        columns: 'date,size,price',
      }),
    ).toEqual([[at('2026-02-03T00:00:00Z'), 84.2, 5]]));

  it('keeps sides and texts', async () => {
    const { tapes } = await read('time,price,side,venue\n1770021000,1,buy,X\n1770021001,1,S,Y\n1770021002,1,?,X\n');
    expect([...tapes.T[0].side]).toEqual([1, -1, 0]);
    expect([...tapes.T[0]['text:venue']]).toEqual([0, 1, 0]);
  });
});

describe('other kinds', () => {
  it('quotes', async () => {
    const { reading } = await read('time,bid,ask\n1770021000,1,2\n');
    expect(reading.kind).toBe('quotes');
  });
  it('bars', async () =>
    expect(
      await rowsOf('time,open,high,low,close,volume\n1770021000,1,4,0.5,2,7\n', [
        'open',
        'high',
        'low',
        'close',
        'volume',
      ]),
    ).toEqual([[1, 4, 0.5, 2, 7]]));

  it('JSON by columns, each of them longer than what is looked at first', async () => {
    const seconds = Array.from({ length: 20_000 }, (_, row) => Date.parse('2026-02-02T08:00Z') / 1000 + row);
    const file = JSON.stringify({ time: seconds, price: seconds.map((_, row) => row / 4), size: seconds.map(() => 3) });
    expect((await rowsOf(file, ['time', 'price', 'size'])).at(-1)).toEqual([seconds.at(-1)! * 1e6, 19_999 / 4, 3]);
  });

  it('a wide file makes a tape of each of its columns', async () => {
    const { tapes } = await read('date,Kelp Index,SALT\n2026-02-02,100,41.5\n2026-02-03,101,\n');
    expect(Object.entries(tapes).map(([name, [part]]) => [name, [...part.price]])).toEqual([
      ['T_Kelp_Index', [100, 101]],
      ['T_SALT', [41.5]],
    ]);
  });

  it('a long file makes a tape of each instrument', async () => {
    const { tapes } = await read('time,symbol,price\n1770021000,KELP,84\n1770021001,SALT,41\n1770021002,KELP,85\n');
    expect(Object.entries(tapes).map(([name, [part]]) => [name, [...part.price]])).toEqual([
      ['KELP', [84, 85]],
      ['SALT', [41]],
    ]);
  });
});

describe('checks', () => {
  const found = async (file: string, parameters = {}) =>
    Object.fromEntries((await read(file, parameters)).findings.map(({ id, count }) => [id, count]));
  const hours = { session: '08:30-16:30', weekdays: 'Mon,Tue,Wed,Thu,Fri', closed: '2026-02-04' };

  it('tell each line that cannot be read, with its number, why, and as it stood', async () => {
    const lines = Array.from({ length: 40 }, (_, i) => `${1770021000 + i},84.2`);
    lines.splice(1, 0, '1770021000,n.a.!', 'noon,84.3', '2026-03-29 01:30,84.1');
    const { findings, leftOut } = await read(`time,price\n${lines.join('\n')}\n`);
    expect(findings[0].examples).toEqual([
      { line: 3, says: 'price `n.a.!` is not a number' },
      { line: 4, says: '`noon` is no time' },
      { line: 5, says: '`2026-03-29 01:30` does not exist in Atlantic/Faroe: the clocks go forward over it' },
    ]);
    expect(leftOut.map(({ line, text }) => [line, text])).toEqual([
      [3, '1770021000,n.a.!'],
      [4, 'noon,84.3'],
      [5, '2026-03-29 01:30,84.1'],
    ]);
  });

  it.each([
    ['prices that are not above 0', '1770021000,0,1\n1770021001,-5,1\n1770021002,1,1\n', { 'not-positive': 2 }],
    [
      'missing prices, missing and zero sizes',
      '1770021000,,1\n1770021001,2,\n1770021002,2,0\n',
      { 'no-price': 1, 'no-size': 1, 'zero-size': 1 },
    ],
    [
      'repeats, and other records of one instant',
      '1770021000,1,1\n1770021000,1,1\n1770021000,1,2\n',
      { repeat: 1, 'same-instant': 1 },
    ],
    ['late records', '1770021005,1,1\n1770021000,1,1\n', { 'out-of-order': 1 }],
    [
      'a file that begins with its newest record',
      '1770021005,1,1\n1770021003,1,1\n1770021000,1,1\n',
      { 'newest-first': 1 },
    ],
    ['the future', '1770021000,1,1\n1970021000,1,1\n', { future: 1 }],
    [
      'a bad print',
      `${[80, 80.1, 80, 80.2, 802, 80.1, 80, 80.1].map((price, i) => `${1770021000 + i},${price},1`).join('\n')}\n`,
      { 'bad-print': 1 },
    ],
    [
      'a jump that stays',
      `${[80, 80.1, 80, 80.2, 90, 90.1, 90, 90.1].map((price, i) => `${1770021000 + i},${price},1`).join('\n')}\n`,
      {},
    ],
  ])('find %s', async (_, file, want) => expect(await found(`time,price,size\n${file}`)).toEqual(want));

  it('tell the same length of bars in whatever order they stand', async () => {
    const bars = [8, 9, 10, 11, 13].map((hour) => `2026-02-02T${String(hour).padStart(2, '0')}:00:00Z,1,1,1,1`);
    const shuffled = fc.shuffledSubarray(bars, { minLength: bars.length });
    await fc.assert(
      fc.asyncProperty(fc.oneof(shuffled, fc.constant(bars.toReversed())), async (lines) => {
        expect((await read(`time,open,high,low,close\n${lines.join('\n')}\n`)).interval).toBe('1 hour');
      }),
    );
  });

  it('find records outside the session and on closed dates', async () =>
    expect(
      await found(
        'time,price\n2026-02-02T08:00:00Z,1\n2026-02-02T09:00:00Z,1\n2026-02-04T09:00:00Z,1\n2026-02-07T09:00:00Z,1\n',
        hours,
      ),
    ).toEqual({ outside: 1, 'closed-date': 2 }));

  it('find bars and quotes that cannot be', async () => {
    expect(await found('time,open,high,low,close\n1770021000,1,2,3,1\n')).toEqual({ range: 1 });
    expect(await found('time,bid,ask\n1770021000,3,2\n')).toEqual({ crossed: 1 });
  });

  it('flag, keep or leave out, by choice', async () => {
    const file = 'time,price,size\n1770021000,1,1\n1770021000,1,1\n';
    expect((await read(file)).tapes.T[0].flags[1]).not.toBe(0);
    expect((await read(file, { checks: 'repeat:keep' })).tapes.T[0].flags[1]).toBe(0);
    expect((await read(file, { checks: 'repeat:leave-out' })).tapes.T[0].time.length).toBe(1);
  });

  it('turn a file round that begins with its newest record, with those of one instant', async () =>
    expect(await rowsOf('time,price\n1770021002,1\n1770021001,2\n1770021001,3\n1770021000,4\n', ['price'])).toEqual([
      [4],
      [3],
      [2],
      [1],
    ]));

  it('sort late records into place, those of one instant as they came, and know their lines', async () =>
    expect(
      await rowsOf('time,price\n1770021002,1\n1770021000,2\n1770021002,3\n1770021000,4\n', ['price', 'line']),
    ).toEqual([
      [2, 3],
      [4, 5],
      [1, 2],
      [3, 4],
    ]));
});

describe('what is no number of a record', () => {
  it('beyond the largest double is told, and never infinite', async () => {
    const good = Array.from({ length: 20 }, (_, i) => `${1770021001 + i},84.2,1`).join('\n');
    const { tapes, leftOut } = await read(`time,price,size\n1770021000,1e309,1\n${good}\n`);
    expect(tapes.T[0].price.every(Number.isFinite)).toBe(true);
    expect(leftOut).toMatchObject([{ line: 2, reason: 'price `1e309` is too large for a number' }]);
  });

  it('as a size is one below 0: it is left out unless one says otherwise', async () => {
    const file = 'time,price,size\n1770021000,1,-150\n1770021001,1,2\n';
    expect((await read(file)).findings).toMatchObject([{ id: 'negative-size', count: 1 }]);
    expect(await rowsOf(file, ['size'])).toEqual([[2]]);
    expect(await rowsOf(file, ['size'], { checks: 'negative-size:keep' })).toEqual([[-150], [2]]);
  });
});

describe('notes in front of the header', () => {
  const records = '2026-02-02T08:30:00Z,84.2,15\n2026-02-02T08:31:00Z,84.3,5\n';
  it.each([
    ['none', 'time,price,size\n', 2],
    ['lines that begin with #', '# Tarn Harbour Exchange\n# crowns\n\ntime,price,size\n', 5],
    ['of which the last is the header', '# Tarn Harbour Exchange\n#time,price,size\n', 3],
    ['with a quote that does not close', '# of the "old quay\ntime,price,size\n', 3],
    ['and no header', '# Tarn Harbour Exchange\n', 2],
  ])('%s', async (_, head, line) => {
    const { tapes, reading } = await read(head + records, {}, 9);
    expect(Object.keys(tapes)).toEqual(['T']);
    expect([...tapes.T[0].price, ...tapes.T[0].line]).toEqual([84.2, 84.3, line, line + 1]);
    expect(reading.columns.map(({ role }) => role)).toEqual(['time', 'price', 'size']);
  });
});

it('instruments whose names differ by their capitals or marks alone make tapes with names of their own', async () => {
  const names = ['a', 'A', 'kelp-1', 'kelp 1', 'a'];
  const rows = names.map((name, row) => `${1770021000 + row},${row + 1},${name}`);
  const { tapes } = await read(`time,price,symbol\n${rows.join('\n')}\n`);
  expect(Object.fromEntries(Object.entries(tapes).map(([name, [part]]) => [name, [...part.price]]))).toEqual({
    a: [1, 5],
    A_2: [2],
    kelp_1: [3],
    kelp_1_2: [4],
  });
});

it('flags are bits that never change, since records that are stored hold them', () =>
  expect(Object.fromEntries(CHECKS.map(({ id, bit }) => [id, bit]))).toEqual({
    unreadable: 0,
    'no-price': 1,
    'not-positive': 2,
    'no-size': 3,
    'zero-size': 4,
    repeat: 5,
    'out-of-order': 6,
    'same-instant': 7,
    outside: 8,
    'closed-date': 9,
    future: 10,
    'bad-print': 11,
    range: 12,
    crossed: 13,
    gap: 14,
    'repeated-time': 15,
    'negative-size': 16,
    'newest-first': 17,
  }));

describe('refused, in plain words', () => {
  const bomb = () =>
    gzipSync(Buffer.concat([Buffer.from('time,price\n'), Buffer.alloc(20 << 20, '1770021000,1\n')]), { level: 9 });
  it.each([
    ['an empty file', '', 'empty-file', /The file is empty/],
    ['a header alone', 'time,price\n', 'empty-file', /a header and no records/],
    ['no time', 'day of trade,price\nMonday,2\n', 'no-time-column', /the file has day of trade, price/],
    ['no price', 'time,colour\n1770021000,red\n', 'no-price-column', /No column is the price/],
    ['prices where times should be', '84.2,15\n84.3,20\n', 'no-time-column', /No column is the time/],
    [
      'too many lines that cannot be read',
      '1770021000,1\n1770021001,x\n',
      'unreadable-lines',
      /1 of 2 lines cannot be read/,
    ],
    ['a line without end', `1770021000,1\n${'x'.repeat(2_000_000)}`, 'unreadable-lines', /Line 2 is longer than 1 MB/],
    ['bytes that are no text', new Uint8Array(5000), 'no-time-column', /No column is the time/],
    [
      'a gzip that breaks off',
      new Uint8Array(gzipSync('time,price\n1770021000,1\n'.repeat(99)).subarray(0, 60)),
      'broken-body',
      /breaks off/,
    ],
    ['a gzip that grows without measure', new Uint8Array(bomb()), 'too-large', /grows to more than 200 times/],
    [
      'a zip of two files',
      zipSync({ 'a.csv': encode('x'), 'b.csv': encode('y') }),
      'unreadable-lines',
      /more than one file/,
    ],
    [
      'what its first bytes say and it is not',
      encode('PAR1 and then nothing of the kind'),
      'broken-body',
      /Parquet file is damaged, or is none/,
    ],
  ])('%s', async (_, file, code, detail) => {
    expect(await refusalOf(file)).toMatchObject({ code, detail: expect.stringMatching(detail) });
    expect(readdirSync(join(folder, 'incoming'))).toEqual([]);
  });
});

describe('records that a check of their order leaves out', () => {
  const checks = 'repeat:leave-out,outside:leave-out';
  const parameters = { zone: 'UTC', session: '08:00-17:00', checks };
  const lines = [
    '2026-02-02T08:30:00Z , 84.20 , 15',
    ' 2026-02-02T08:30:00Z,84.2,15.0',
    '2026-02-02T19:00:00Z,84.20,7',
  ];
  const text = `time,price,size\n${lines.join('\n')}\n`;
  const json = lines.map((line) => {
    const [time, price, size] = line.split(',').map((field) => field.trim());
    return `{"time": "${time}",  "price": ${price}, "size": ${size}}`;
  });

  it.each([
    ['plain text', text, [3, 4], lines.slice(1)],
    ['quoted text', text.replace('time', '"time"'), [3, 4], lines.slice(1)],
    ['UTF-16', new Uint8Array(Buffer.from(`\uFEFF${text}`, 'utf16le')), [3, 4], lines.slice(1)],
    ['a gzip', new Uint8Array(gzipSync(text)), [3, 4], lines.slice(1)],
    ['JSON lines', json.join('\n'), [2, 3], json.slice(1)],
    ['a JSON array', `[${json.join(', ')}]`, [2, 3], json.slice(1)],
  ] as const)('are kept as they stood: %s', async (_, file, numbers, texts) => {
    const { leftOut, leftOutCount } = await read(file, parameters, 50);
    expect(leftOutCount).toBe(2);
    expect(leftOut.map(({ line }) => line)).toEqual(numbers);
    expect(leftOut.map(({ text: kept }) => kept)).toEqual(texts);
    expect(readdirSync(join(folder, 'incoming'))).toEqual([]);
  });

  it('are judged by their order in time, however the file has them, and each tape by its own', () => {
    const trade = fc.record({
      tape: fc.constantFrom('A', 'B'),
      hour: fc.integer({ min: 15, max: 18 }),
      size: fc.integer({ min: 1, max: 2 }),
    });
    return fc.assert(
      fc.asyncProperty(fc.array(trade, { minLength: 1, maxLength: 12 }), async (trades) => {
        fc.pre(trades.some(({ hour }) => hour < 17));
        const rows = trades.map(({ tape, hour, size }) => `2026-02-02T${hour}:00:00Z,84,${size},${tape}`);
        const file = `time,price,size,symbol\n${rows.join('\n')}\n`;
        const { tapes } = await read(file, { ...parameters, columns: 'time,price,size,instrument' });
        for (const name of new Set(trades.map(({ tape }) => tape))) {
          const kept = tapes[name].flatMap(({ time, size }) => Array.from(time, (when, row) => `${when} ${size[row]}`));
          const inSession = trades.filter(({ tape, hour }) => tape === name && hour < 17);
          const distinct = new Set(inSession.map(({ hour, size }) => `${at(`2026-02-02T${hour}:00:00Z`)} ${size}`));
          expect(kept.sort()).toEqual([...distinct].sort());
        }
      }),
      { numRuns: 100 },
    );
  });
});

it('bytes and the full parser read the same, whatever is in a file and however it comes', async () => {
  const field = fc.oneof(
    fc.constantFrom(
      '1770021000',
      '2026-02-02T08:30:00.015Z',
      '2026-03-29 01:30:00',
      '84.20',
      '-1e3',
      '',
      ' 7 ',
      'n/a',
      'é',
      '0.1',
      '+5',
      '1.2.3',
      '99999999999999999999',
      '0',
    ),
    fc.integer({ min: 0, max: 1e7 }).map((cents) => (cents / 100).toFixed(2)),
  );
  const line = fc.array(field, { minLength: 1, maxLength: 5 }).map((fields) => fields.join(','));
  const choices = {
    header: 'yes',
    columns: 'time,price,size',
    delimiter: 'comma',
    decimal: 'point',
    skip: '0',
    under: '0',
    checks: 'unreadable:leave-out',
  };
  await fc.assert(
    fc.asyncProperty(
      fc.array(line, { minLength: 1, maxLength: 20 }),
      fc.constantFrom('\n', '\r\n'),
      fc.integer({ min: 1, max: 40 }),
      async (lines, ending, piece) => {
        const header = `time,price,size${ending}1770021000,1,1${ending}`;
        const plain = await read(header + lines.join(ending), choices, piece);
        // one quoted field at the very beginning sends the whole file through the full parser
        const full = await read(header.replace('time', '"time"') + lines.join(ending), choices, piece);
        expect(full.tapes).toEqual(plain.tapes);
        expect(full.findings).toEqual(plain.findings);
        expect(full.leftOut.map(({ line: at, reason }) => [at, reason])).toEqual(
          plain.leftOut.map(({ line: at, reason }) => [at, reason]),
        );
      },
    ),
    { numRuns: 150 },
  );
});

describe('numbers', () => {
  it('plain ones are read as the language itself reads them', () =>
    fc.assert(
      fc.property(
        fc.oneof(
          fc.double({ noNaN: true, noDefaultInfinity: true }).map(String),
          fc.constantFrom('', '.', '-', '1.', '.5', '1e5', '1e309', '0x10', ' 1', '1_000'),
        ),
        (text) => {
          const bytes = encode(text);
          const value = /^\s*[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?\s*$/i.test(text) ? Number(text) : NaN;
          const wanted = Number.isFinite(value) ? value : NaN; // beyond the largest double nothing can be worked with
          expect(readNumber(bytes, 0, bytes.length)).toBe(wanted);
        },
      ),
    ));

  it.each([
    ['1,234.50', '.', 1234.5],
    ['1.234,50', ',', 1234.5],
    ["1'234.5", '.', 1234.5],
    ['1 234,5', ',', 1234.5],
    ['$ 12.5', '.', 12.5],
    ['12,5 kr', ',', 12.5],
    ['3.5 %', '.', 0.035],
    ['(12.5)', '.', -12.5],
    ['12,34.5', '.', NaN],
    ['1,5', '.', NaN],
    ['twelve', '.', NaN],
  ] as const)('%s with the mark %s', (text, mark, value) => expect(readStyledNumber(text, mark)).toBe(value));
});
