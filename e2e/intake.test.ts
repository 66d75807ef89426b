import { gzipSync } from 'node:zlib';
import { strToU8, zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fileOf, Reader } from './reader';

/* Files as people have them, taken in by hand: whatever way they are written, the same records come out. */

let reader: Reader;

beforeAll(async () => {
  reader = await Reader.arrive();
});
afterAll(() => reader.leave());

const PRICES = [84.2, 84.3, 84.25, 1084.5];
const timeOf = (row: number) => new Date(Date.UTC(2026, 1, 2, 8, 30 + row)).toISOString();
const lines = (separator: string, price: (value: number) => string) =>
  [['time', 'price', 'size'], ...PRICES.map((value, row) => [timeOf(row), price(value), String(row + 1)])]
    .map((cells) => cells.join(separator))
    .join('\n') + '\n';
const plain = lines(',', String);

/** UTF-16, little end first, with the mark that says so. */
const utf16 = (text: string) => Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from(text, 'utf16le')]);

const api = async <T>(path: string): Promise<T> => (await (await fetch(reader.origin + path)).json()) as T;
const names = async () => (await api<{ name: string }[]>('/api/tapes?limit=1000')).map(({ name }) => name);
const recordsOf = async (name: string) => {
  const answer = await fetch(`${reader.origin}/api/tapes/${name}/records`, { headers: { accept: 'text/csv' } });
  const [head, ...rows] = (await answer.text())
    .trim()
    .split('\n')
    .map((line) => line.split(','));
  return rows.map((row) => Object.fromEntries(head.map((column, at) => [column, row[at]])));
};
const callIt = async (name: string) => {
  const field = await reader.control('textbox', 'Name');
  await field.click({ count: 3 });
  await reader.page.keyboard.type(name);
};
/** Says that the lines are trades, and which column is their size. */
const asTrades = async (size: string) => {
  await (await reader.control('combobox', 'What each line is')).select('ticks');
  await reader.page.waitForSelector(`[aria-label="What ${size} is"] option[value="side"]`);
  await (await reader.control('combobox', `What ${size} is`)).select('size');
  // what is under the rows moves with them when they are read again
  await reader.page.waitForFunction(() =>
    [...document.querySelectorAll('th')].some((head) => head.innerText.trim() === 'size'),
  );
};
const enter = async () => {
  await reader.click('button', 'Import');
  await reader.sees('imported.');
};

describe('the same four trades', () => {
  it.each<[string, string, () => string | Uint8Array]>([
    ['with commas', 'a.csv', () => plain],
    ['with tabs, in UTF-16', 'b.txt', () => utf16(lines('\t', String))],
    [
      'with semicolons and decimal commas, in Latin-1',
      'c.csv',
      () => Buffer.from(lines(';', (value) => `${String(value).replace('.', ',')}`).replace('size', 'größe'), 'latin1'),
    ],
    [
      'with bars, marks for thousands and a sign of currency',
      'd.txt',
      () => lines('|', (value) => `£${value.toLocaleString('en', { minimumFractionDigits: 2 })}`),
    ],
    [
      'as lines of JSON',
      'e.ndjson',
      () => PRICES.map((price, row) => JSON.stringify({ time: timeOf(row), price, size: row + 1 })).join('\n'),
    ],
    [
      'as a list in JSON',
      'f.json',
      () => JSON.stringify(PRICES.map((price, row) => ({ time: timeOf(row), price, size: row + 1 }))),
    ],
    ['packed by gzip', 'g.csv.gz', () => gzipSync(plain)],
  ])('%s', async (_, file, content) => {
    await reader.pick(fileOf(file, content()));
    const name = `WAY_${file[0].toUpperCase()}`;
    await callIt(name);
    if (file === 'c.csv') await asTrades('größe');
    await enter();
    const records = await recordsOf(name);
    expect(records.map(({ price }) => Number(price))).toEqual(PRICES);
    expect(records.map(({ size }) => Number(size))).toEqual([1, 2, 3, 4]);
    expect(records.map(({ time }) => Date.parse(time))).toEqual(PRICES.map((__, row) => Date.parse(timeOf(row))));
  });

  it.each([
    ['Parquet', 'application/vnd.apache.parquet', 'parquet'],
    ['Arrow', 'application/vnd.apache.arrow.stream', 'arrows'],
  ])('bars that were handed out as %s come back the same', async (_, type, ending) => {
    const bars = await fetch(`${reader.origin}/api/tapes/SALT/bars?rule=1 hour`, { headers: { accept: type } });
    expect(bars.headers.get('content-type')).toContain(type);
    await reader.pick(fileOf(`hours.${ending}`, new Uint8Array(await bars.arrayBuffer())));
    const name = `HOURS_${ending.toUpperCase()}`;
    await callIt(name);
    await enter();
    const [again, before] = await Promise.all(
      [`/api/tapes/${name}/records`, '/api/tapes/SALT/bars?rule=1 hour'].map(async (path) => {
        const answer = await fetch(reader.origin + path, { headers: { accept: 'text/csv' } });
        const [head, ...rows] = (await answer.text())
          .trim()
          .split('\n')
          .map((line) => line.split(','));
        return rows.map((row) =>
          ['open', 'high', 'low', 'close', 'volume'].map((name) => Number(row[head.indexOf(name)])),
        );
      }),
    );
    expect(again.length).toBeGreaterThan(400);
    expect(again).toEqual(before);
  });
});

describe('a file with a column for each instrument', () => {
  it('becomes as many tapes, named before they are entered', async () => {
    const wide =
      ['date,WIND,RAIN', '2026-02-02,10.1,3.5', '2026-02-03,10.4,3.25', '2026-02-04,10.2,'].join('\n') + '\n';
    await reader.pick(fileOf('weather.csv', wide));
    await reader.sees('It makes 2 tapes, one of each');
    await reader.click('button', 'Import');
    await reader.sees('imported.');
    const made = (await names()).filter((name) => name.startsWith('WEATHER_'));
    expect(made.toSorted()).toEqual(['WEATHER_RAIN', 'WEATHER_WIND']);
  });
});

describe('a file whose figures all have one mark before three digits', () => {
  it('is not imported before one says whether these are decimals', async () => {
    const text = ['Date;Course', '2026-02-02;50,500', '2026-02-03;50,750', '2026-02-04;51,125'].join('\n') + '\n';
    await reader.pick(fileOf('course.csv', text));
    await reader.sees('Does 50,500 mean');
    await callIt('COURSE');
    await reader.click('button', '50.5 (decimals)');
    await reader.click('button', 'Import');
    await reader.sees('imported.');
    const { spark }: { spark: number[] } = await (await fetch(`${reader.origin}/api/tapes/COURSE`)).json();
    expect(spark.map((value) => value.toFixed(3))).toEqual(['50.500', '50.750', '51.125']);
    const refused = await fetch(`${reader.origin}/api/tapes?name=COURSE_2`, { method: 'POST', body: text });
    expect(await refused.json()).toMatchObject({
      code: 'decimal-open',
      detail: expect.stringContaining('50.5 or 50500'),
    });
  });
});

describe('a long file', () => {
  const ROWS = 1_500_000;
  let path: string;
  beforeAll(() => {
    let text = 'time,price,size\n';
    const start = Date.UTC(2026, 1, 2);
    for (let row = 0; row < ROWS; row++)
      text += `${new Date(start + row * 500).toISOString()},${(100 + (row % 700) / 100).toFixed(2)},${1 + (row % 9)}\n`;
    path = fileOf('long.csv', text);
  });

  it('tells how far it is, and stops when it is told to, leaving nothing', async () => {
    await reader.pick(path);
    await callIt('LONG');
    await reader.click('button', 'Import');
    await reader.page.waitForFunction(
      () => /[\d,]+ records, \d\.\d\d million a second, \d+ s left/.test(document.body.innerText),
      {
        polling: 20,
      },
    );
    await reader.click('button', 'stop');
    await reader.page.waitForFunction(() => !document.querySelector('.under-way'));
    expect(await names()).not.toContain('LONG');
    await reader.control('button', 'Import');
  });

  it('is entered whole after that', async () => {
    await enter();
    const tape = (await api<{ name: string; rows: number }[]>('/api/tapes?limit=1000')).find(
      ({ name }) => name === 'LONG',
    );
    expect(tape?.rows).toBe(ROWS);
  });
});

describe('a tape that is there', () => {
  it('takes in a further file, and says what it had already', async () => {
    const further =
      'time,price,size\n' +
      [3, 4].map((row) => `${timeOf(row)},${row === 3 ? 1084.5 : 85},${row + 1}`).join('\n') +
      '\n';
    await reader.pick(fileOf('further.csv', further));
    await (await reader.control('combobox', 'Add to a tape')).select('WAY_A');
    await reader.click('button', 'Add to WAY_A');
    await reader.sees('imported.');
    expect((await recordsOf('WAY_A')).map(({ price }) => Number(price))).toEqual([...PRICES, 85]);
    await reader.open('/records/WAY_A');
    await reader.sees('holds 5 trades');
    await reader.sees('further.csv');
  });

  it('takes another name, a zone and a session, and refuses what is none', async () => {
    const type = async (name: string, value: string) => {
      const input = await reader.control('textbox', name);
      await input.click({ count: 3 });
      await reader.page.keyboard.type(value);
    };
    const field = async (name: string, value: string) => {
      await type(name, value);
      await reader.page.keyboard.press('Enter');
    };
    await field('Zone', 'Atlantic/Nowhere');
    await reader.sees('must be the IANA name');
    // what is half typed stays when the answer to the change before it comes
    await reader.page.evaluate(() => {
      const { fetch } = window;
      window.fetch = async (...asked) => {
        await new Promise((go) => addEventListener('answered', go, { once: true }));
        return fetch(...asked);
      };
    });
    await field('Zone', 'Atlantic/Faroe');
    await type('Session', '08:30-');
    await reader.page.evaluate(() => {
      setInterval(() => dispatchEvent(new Event('answered')), 50);
    });
    await reader.sees('The calendar was changed');
    await reader.page.keyboard.type('08:32');
    await reader.page.keyboard.press('Enter');
    await reader.page.waitForFunction(
      async (origin) => {
        const tapes = (await (await fetch(`${origin}/api/tapes?limit=1000`)).json()) as {
          name: string;
          session: string | null;
        }[];
        return tapes.find(({ name }) => name === 'WAY_A')?.session === '08:30-08:32';
      },
      {},
      reader.origin,
    );
    const inSession = await api<unknown[]>('/api/tapes/WAY_A/bars?rule=1 minute');
    expect(JSON.stringify(inSession)).toContain('08:31');
    expect(JSON.stringify(inSession)).not.toContain('08:33');
    await field('Name of the tape', 'WAY_RENAMED');
    await reader.page.waitForFunction(() => location.pathname.endsWith('WAY_RENAMED'));
    expect(await names()).toContain('WAY_RENAMED');
  });
});

describe('a reading that was kept', () => {
  it('is proposed again for a file of the same shape', async () => {
    const odd = (last: string) => `when;worth;how many\n03.02.2026 09:00;84,2;1\n04.02.2026 09:00;${last};2\n`;
    await reader.pick(fileOf('odd.csv', odd('84,3')));
    await asTrades('how many');
    await (await reader.control('textbox', 'Name of the import settings')).click();
    await reader.page.keyboard.type('the odd ones');
    await reader.click('button', 'save');
    await reader.sees('saved as the odd ones');
    await reader.pick(fileOf('odd-again.csv', odd('84,9')));
    await reader.sees('Saved settings “the odd ones”.');
    await callIt('ODD');
    await enter();
    expect((await recordsOf('ODD')).map(({ price, size }) => [Number(price), Number(size)])).toEqual([
      [84.2, 1],
      [84.9, 2],
    ]);
  });
});

describe('several files at once', () => {
  const day = (date: string, close: number) => `date,open,high,low,close\n${date},1,9,1,${close}\n`;
  const closesOf = async (name: string) => (await recordsOf(name)).map(({ close }) => Number(close));

  it('are joined by their names where their dates follow on each other, and those that fail do not keep others out', async () => {
    await reader.pick(
      fileOf('quay_2026-02.csv', day('2026-02-02', 2)),
      fileOf('quay_2026-01.csv', day('2026-01-05', 1)),
      fileOf('pier_2026-01.csv', day('2026-01-05', 7)),
      fileOf('letter.txt', 'dear all\nnothing here\n'),
    );
    await reader.sees('4 files');
    await reader.sees('2026-02-02');
    await reader.click('button', 'Import');
    await reader.sees('Not entered. No column is the time');
    await reader.click('button', 'leave the others');
    await reader.sees('2 tapes were imported. Import reports:');
    expect(await Promise.all(['QUAY', 'PIER'].map(closesOf))).toEqual([[1, 2], [7]]);
  });

  it('are each read as they are written, where they look alike: title lines, decimals, the order of dates', async () => {
    await reader.pick(
      fileOf('skerry_2026-01.csv', 'date;close\n13/01/2026;1,5\n14/01/2026;2,5\n'),
      fileOf('skerry_2026-02.csv', 'Skerry, in February\n\ndate;close\n02/13/2026;3.5\n02/14/2026;4.5\n'),
    );
    await reader.sees('2 files');
    await reader.click('button', 'Import');
    await reader.sees('SKERRY was imported');
    expect((await recordsOf('SKERRY')).map(({ time, price }) => `${time.slice(0, 10)} ${price}`)).toEqual([
      '2026-01-13 1.5',
      '2026-01-14 2.5',
      '2026-02-13 3.5',
      '2026-02-14 4.5',
    ]);
  });

  it('may come in a zip, and make a tape each where it is chosen', async () => {
    const zip = zipSync({ 'mole_1.csv': strToU8(day('2026-01-05', 1)), 'mole_2.csv': strToU8(day('2026-01-06', 2)) });
    await reader.pick(fileOf('moles.zip', zip));
    await reader.sees('2 files');
    await (await reader.control('combobox', 'What the files make')).select('apart');
    await reader.click('button', 'Import');
    await reader.sees('2 tapes were imported');
    expect(await Promise.all(['MOLE_1', 'MOLE_2'].map(closesOf))).toEqual([[1], [2]]);
  });
});
