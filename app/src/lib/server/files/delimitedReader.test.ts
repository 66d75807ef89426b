import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeCalendar } from '@jaunty-ledger/core';
import { Refusal } from '$lib/api/problems';
import { DelimitedReader } from './delimitedReader';
import { readNumber } from './numberText';

const calendar = makeCalendar({ zone: 'Atlantic/Faroe' });

/** Reads a text that comes in pieces of some size. */
async function read(text: string, pieceBytes = 1 << 16) {
  const rows: number[][] = [];
  const reader = new DelimitedReader('ticks', calendar, { add: (values) => void rows.push([...values]) });
  const bytes = new TextEncoder().encode(text);
  for (let at = 0; at < bytes.length; at += pieceBytes) await reader.push(bytes.subarray(at, at + pieceBytes));
  await reader.end();
  return { rows, reader };
}

const refusalOf = (text: string) =>
  read(text).then(
    () => undefined,
    (error: unknown) => (error instanceof Refusal ? error.problem : error),
  );

const at = (text: string) => Date.parse(text) * 1000;

describe('delimited files of trades', () => {
  it.each([
    ['with a header', 'time,price,size\n2026-02-02T08:30:00Z,84.2,15\n'],
    ['without', '2026-02-02T08:30:00Z,84.2,15'],
    ['with columns in another order and more of them', 'venue,qty,last,timestamp\nX,15,84.2,2026-02-02T08:30:00Z\n'],
    ['of semicolons', 'time;price;size\n2026-02-02T08:30:00Z;84.2;15'],
    ['of tabs, with CRLF and a byte order mark', '\uFEFFtime\tprice\tsize\r\n2026-02-02T08:30:00Z\t84.2\t15\r\n'],
    ['with quotes', '"time","price","size"\n"2026-02-02T08:30:00Z","84.2","15"\n'],
    ['with epoch times and empty lines', '\n1770021000,84.2,15\n\n'],
    ['with spaces and local times', '2026-02-02 08:30:00 , 84.20 , 15'],
  ])('%s', async (_, text) => expect((await read(text)).rows).toEqual([[at('2026-02-02T08:30:00Z'), 84.2, 15]]));

  it('leave an unknown size missing', async () =>
    expect((await read('1770021000,84.2,\n1770021001,84.3')).rows.map(([, , size]) => size)).toEqual([NaN, NaN]));

  it('tell each line that cannot be read, with its number and why', async () => {
    const { rows, reader } = await read(
      'time,price\n1770021000,84.2\n1770021001,n/a\nnoon,84.3\n1770021002,\n2026-03-29 01:30,84.1\n1770021003,84.4\n',
    );
    expect(rows.length).toBe(2);
    expect(reader.rejected).toEqual([
      { line: 3, reason: 'price `n/a` is not a number' },
      { line: 4, reason: '`noon` is no time' },
      { line: 5, reason: 'the price is missing' },
      { line: 6, reason: '`2026-03-29 01:30` does not exist in Atlantic/Faroe: the clocks go forward over it' },
    ]);
  });

  it.each([
    ['', 'empty-file', /The file is empty/],
    ['time,price\n', 'empty-file', /a header and no records/],
    ['day of trade,price\nMonday,2\n', 'no-time-column', /names day of trade, price/],
    ['time,colour\n1770021000,red\n', 'no-price-column', /no price column/],
    ['84.2,15\n84.3,20\n', 'no-time-column', /No line has a time/],
    ['1770021000,x\n1770021001,y\n', 'unreadable-lines', /Line 1: price `x` is not a number/],
    ['1770021000\n', 'no-price-column', /A line has 1 field/],
    [`1770021000,1\n${'x'.repeat(2_000_000)}`, 'unreadable-lines', /Line 2 is longer than 1 MB/],
  ])('refused: %#', async (text, code, detail) =>
    expect(await refusalOf(text)).toMatchObject({ code, detail: expect.stringMatching(detail) }),
  );

  it('are read the same by bytes and by the full parser, whatever is in them and however they come', async () => {
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
      ),
      fc.integer({ min: 0, max: 1e7 }).map((cents) => (cents / 100).toFixed(2)),
    );
    const line = fc.array(field, { minLength: 1, maxLength: 5 }).map((fields) => fields.join(','));
    await fc.assert(
      fc.asyncProperty(
        fc.array(line, { minLength: 1, maxLength: 20 }),
        fc.constantFrom('\n', '\r\n'),
        fc.integer({ min: 1, max: 40 }),
        async (lines, ending, piece) => {
          const header = `time,price,size${ending}1770021000,1,1${ending}`;
          const plain = await read(header + lines.join(ending), piece);
          // one quoted field at the very beginning sends the whole file through the full parser
          const full = await read(header.replace('time', '"time"') + lines.join(ending), piece);
          expect(full.rows).toEqual(plain.rows);
          expect(full.reader.rejected).toEqual(plain.reader.rejected);
        },
      ),
      { numRuns: 200 },
    );
  });
});

it('reads decimal numbers as the language itself does', () =>
  fc.assert(
    fc.property(
      fc.oneof(
        fc.double({ noNaN: true, noDefaultInfinity: true }).map(String),
        fc.constantFrom('', '.', '-', '1.', '.5', '1e5', '0x10', ' 1', '1_000'),
      ),
      (text) => {
        const bytes = new TextEncoder().encode(text);
        const wanted = /^\s*[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?\s*$/i.test(text) ? Number(text) : NaN;
        expect(readNumber(bytes, 0, bytes.length)).toBe(wanted);
      },
    ),
  ));
