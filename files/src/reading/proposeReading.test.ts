import { gzipSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { previewReading } from './previewReading.js';
import { choicesOf, ReadingChoices, type Reading } from './reading.js';
import { proposeReading, requireDecided } from './proposeReading.js';

/* A reading is proposed from the beginning of a file, whatever program wrote it. */

const LIMITS = { uploadMegabytes: 8192, growth: 200, columns: 256, words: 10_000 };
const propose = async (text: string, choices: ReadingChoices = {}) =>
  proposeReading(new TextEncoder().encode(text), choices, LIMITS);
const rolesOf = ({ columns }: Reading) => columns.map(({ role }) => role).join(' ');
const lines = (...rows: string[]) => `${rows.join('\n')}\n`;

describe('what a file is', () => {
  it.each([
    ['trades', lines('time,price,size', '2026-02-02T08:30:00Z,84.2,15'), 'ticks', 'time price size'],
    ['trades that know their side', lines('ts,side,px,qty', '1770021000,buy,84.2,15'), 'ticks', 'time side price size'],
    [
      'quotes',
      lines('time,bid,ask,bid_size,ask_size', '1770021000,84.1,84.3,5,7'),
      'quotes',
      'time bid ask bidSize askSize',
    ],
    [
      'bars',
      lines('Date,Open,High,Low,Close,Volume', '2026-02-02,1,3,1,2,100'),
      'bars',
      'date open high low close volume',
    ],
    ['a series', lines('date,index', '2026-02-02,104.2', '2026-02-03,104.5'), 'series', 'date value'],
    ['several series', lines('date,KELP,SALT', '2026-02-02,1,2', '2026-02-03,1,2'), 'series', 'date value value'],
    ['a date and a clock', lines('date;clock;price', '02.02.2026;08:30:00;84,2'), 'ticks', 'date clock price'],
    [
      'many instruments',
      lines('time,symbol,price', '1770021000,KELP,84.2', '1770021000,SALT,9.1'),
      'ticks',
      'time instrument price',
    ],
  ])('%s', async (_, text, kind, roles) => {
    const { reading } = await propose(text);
    expect({ kind: reading.kind, roles: rolesOf(reading) }).toEqual({ kind, roles });
  });
});

describe('words beside values', () => {
  const rolesWith = async (head: string, row: (at: number) => string) => {
    const { reading } = await propose(lines(head, ...Array.from({ length: 60 }, (_, at) => row(at))));
    return rolesOf(reading);
  };
  const day = (at: number) => `2026-02-${String(1 + Math.floor(at)).padStart(2, '0')}`;
  it.each([
    [
      'regions that repeat are words',
      'date,region,amount',
      (at: number) => `${day(at % 28)},R${at % 2},5`,
      'date text value',
    ],
    [
      'numbers of orders are left out',
      'date,order,amount',
      (at: number) => `${day(at / 3)},A${at},5`,
      'date skip value',
    ],
    [
      'notes are kept, however different',
      'date,note,amount',
      (at: number) => `${day(at / 3)},${'x'.repeat(at + 1)},5`,
      'date text value',
    ],
    [
      'words that come again at each date are instruments',
      'date,place,calls',
      (at: number) => `${day(at / 3)},P${at % 3},5`,
      'date instrument value',
    ],
    [
      'and so are those of a single date',
      'date,place,calls',
      (at: number) => `2026-02-01,P${at},5`,
      'date instrument value',
    ],
    [
      'an amount beside a close is its size',
      'date,close,amount',
      (at: number) => `${day(at % 28)},7,${at}`,
      'date value size',
    ],
  ])('%s', async (_, head, row, roles) => expect(await rolesWith(head, row)).toBe(roles));
});

describe('how it is written', () => {
  it.each([
    ['commas', 'time,price\n1770021000,84.2\n', { delimiter: ',', decimal: '.', header: true }],
    ['semicolons and decimal commas', 'time;price\n1770021000;84,2\n', { delimiter: ';', decimal: ',', header: true }],
    ['tabs', 'time\tprice\n1770021000\t84.2\n', { delimiter: '\t' }],
    ['bars', 'time|price\n1770021000|84.2\n', { delimiter: '|' }],
    ['no header', '1770021000,84.2,1\n1770021001,84.3,2\n', { header: false }],
    ['lines of JSON', '{"time":1770021000,"price":84.2}\n{"time":1770021001,"price":84.3}\n', { format: 'ndjson' }],
    ['an array of JSON', '[{"time":1770021000,"price":84.2}]', { format: 'json' }],
  ])('with %s', async (_, text, wanted) => expect((await propose(text)).reading).toMatchObject(wanted));
});

describe('the order of a date', () => {
  const dates = (...days: string[]) => lines('date,price', ...days.map((day) => `${day},84.2`));
  it.each([
    ['is told by a day beyond the twelfth', dates('01/02/2026', '13/02/2026'), 'day-first', []],
    ['or a month that is none', dates('02/01/2026', '02/13/2026'), 'month-first', []],
    ['is day first with points', dates('01.02.2026', '02.02.2026'), 'day-first', []],
    ['by the year in front', dates('2026-02-01', '2026-02-02'), 'year-first', []],
  ])('%s', async (_, text, order, open) => {
    const proposal = await propose(text);
    expect([proposal.reading.dateOrder, proposal.open]).toEqual([order, open]);
  });

  it('is asked where the whole sample leaves it open, and not once it is chosen', async () => {
    const text = dates('01/02/2026', '02/02/2026');
    expect((await propose(text)).open).toEqual(['dateOrder']);
    const chosen = await propose(text, { dateOrder: 'month-first' });
    expect([chosen.reading.dateOrder, chosen.open]).toEqual(['month-first', []]);
  });
});

describe('what was chosen', () => {
  it('goes before what would be proposed, and the rest follows it', async () => {
    const choices = ReadingChoices.parse({ columns: 'time,skip,price', header: 'no', decimal: 'comma' });
    const { reading } = await propose('1770021000;X;84,2\n', choices);
    expect(reading).toMatchObject({ header: false, decimal: ',' });
    expect(rolesOf(reading)).toBe('time skip price');
  });

  it('can be written down as parameters and read again as the same reading', async () => {
    for (const text of [
      lines('time,price,size', '2026-02-02T08:30:00Z,84.2,15'),
      lines('Datum;Schluss', '02.02.2026;84,2', '13.02.2026;84,3'),
      lines('time,venue,price', '1770021000,X,84.2', '1770021001,Y,84.3', '1770021002,X,84.3'),
    ]) {
      const { reading } = await propose(text);
      const again = await propose(text, ReadingChoices.parse(choicesOf(reading)));
      expect(again.reading).toEqual(reading);
    }
  });

  it('is refused where it cannot be', () => {
    expect(ReadingChoices.safeParse({ delimiter: 'colon' }).success).toBe(false);
    expect(ReadingChoices.safeParse({ header: 'perhaps' }).success).toBe(false);
    expect(ReadingChoices.safeParse({ separator: 'comma' }).success).toBe(false);
  });
});

it.each([
  ['a file of few rows', 20],
  ['one of more rows than a proposal looks at', 900],
])('the last rows of a preview are those of the file: %s', async (_, rows) => {
  const day = (at: number) => new Date(Date.UTC(2020, 0, 1 + at)).toISOString().slice(0, 10);
  const text = `date,close\n${Array.from({ length: rows }, (_, at) => `${day(at)},${at}`).join('\n')}\n`;
  const head = new TextEncoder().encode(text);
  const ends = [
    { head, tail: new Uint8Array(0) },
    { head: head.slice(0, 600), tail: head.slice(-200) },
    { head: new Uint8Array(gzipSync(text)), tail: new Uint8Array(0) },
    { head: new Uint8Array(Buffer.from(`\uFEFF${text}`, 'utf16le')), tail: new Uint8Array(0) },
  ];
  for (const { head, tail } of rows > 100 ? ends : ends.filter(({ tail }) => tail.length === 0)) {
    const { last } = await previewReading(
      { head, tail, choices: {}, calendar: { zone: 'UTC' } },
      async () => undefined,
      LIMITS,
    );
    expect(last.map(({ read }) => read?.[1])).toEqual([6, 5, 4, 3, 2, 1].map((back) => String(rows - back)));
  }
});

it('a preview counts what a session would hide, in all lines that are there, by the day and the hour', async () => {
  const times = Array.from({ length: 1000 }, (_, at) => new Date(Date.UTC(2026, 1, 2, 8 + at)).toISOString()); // from a Monday on
  const head = new TextEncoder().encode(
    `time,price\n${times.map((time, at) => `${time},${80 + (at % 9)}`).join('\n')}\n`,
  );
  const input = { head, tail: new Uint8Array(0), choices: {} };
  const calendar = { zone: 'UTC', session: '09:00-17:00', weekdays: ['Mon', 'Tue', 'Wed', 'Thu', 'Fri'] };
  const { hidden } = await previewReading({ ...input, calendar }, async () => undefined, LIMITS);
  const isOpenDay = (time: string) => ![0, 6].includes(new Date(time).getUTCDay());
  const isHidden = (time: string) =>
    !isOpenDay(time) || !(Number(time.slice(11, 13)) >= 9 && Number(time.slice(11, 13)) < 17);
  const outside = times.filter(isHidden);
  expect(hidden).toMatchObject({ rows: 1000, hidden: outside.length });
  expect(hidden!.days[5]).toBe(times.filter((time) => new Date(time).getUTCDay() === 6).length);
  expect(hidden!.hours[8]).toBe(times.filter((time) => isOpenDay(time) && time.slice(11, 13) === '08').length);
  expect(
    (await previewReading({ ...input, calendar: { zone: 'UTC' } }, async () => undefined, LIMITS)).hidden,
  ).toBeNull();
});

describe('a mark before three digits in every figure', () => {
  const file = (delimiter: string, head: string, figures: readonly string[], quote = '') =>
    [
      head,
      ...figures.map((figure, at) => `2026-02-${String(at + 2).padStart(2, '0')}${delimiter}${quote}${figure}${quote}`),
    ].join('\n');

  it.each([
    ['is the decimal mark under headings of such a language', file(';', 'Datum;Kurs', ['50,500', '50,750']), ',', []],
    ['is asked for under other headings', file(';', 'Date;Course', ['50,500', '50,750']), ',', ['decimal']],
    ['is asked for between tabs', file('\t', 'Date\tClose', ['50,500', '50,750']), ',', ['decimal']],
    ['is asked for in quotes between commas', file(',', 'date,close', ['50,500', '50,750'], '"'), '.', ['decimal']],
    ['is a point where points are decimal', file(',', 'date,close', ['84.125', '84.250']), '.', []],
    ['is asked for where points may be thousands', file(';', 'Datum;Wert', ['50.500', '50.750']), '.', ['decimal']],
    ['is thousands beside figures below a thousand', file(';', 'Date;Visits', ['1,020', '980', '1,100']), '.', []],
    ['is decimal beside long figures without one', file(';', 'Date;Level', ['1234', '1235,125', '1236,250']), ',', []],
    ['is decimal behind a 0', file(';', 'Date;Share', ['0,125', '1,250']), ',', []],
    ['is thousands where it comes twice', file(';', 'Date;Sum', ['1,250,000', '2,500']), '.', []],
    ['is thousands in counts', file(';', 'Date;Volume', ['50,500', '50,750']), '.', []],
  ])('%s', async (_, text, decimal, open) => {
    const proposal = await propose(text);
    expect([proposal.reading.decimal, proposal.open]).toEqual([decimal, open]);
    if (open.length > 0) expect(() => requireDecided(proposal)).toThrow(/decimal=comma/);
  });

  it('is what one chooses', async () => {
    const choices = ReadingChoices.parse({ decimal: 'point' });
    const { reading, open } = await propose(file(';', 'Date;Course', ['50,500', '50,750']), choices);
    expect([reading.decimal, open]).toEqual(['.', []]);
  });
});
