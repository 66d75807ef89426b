import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gunzipSync, gzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildBars, evaluate, frameOf, instantOf, makeCalendar, parseBarRule } from '@jaunty-ledger/core';

/* The command as it is run: files in, tables out, and errors that say where. */

const JAUNTY = fileURLToPath(new URL('../dist/jaunty.js', import.meta.url));
const HOURS = ['--zone', 'Atlantic/Faroe', '--session', '08:30-16:30'];

let folder: string;
const at = (name: string) => join(folder, name);
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'jaunty-cli-'));
  writeFileSync(at('kelp.csv'), csvOf(trades));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const trades = Array.from({ length: 3000 }, (_, i) => ({
  time: new Date(Date.UTC(2026, 1, 2, 9) + 7000 * i + (i % 5) * 130).toISOString(),
  price: Math.round(8000 + 300 * Math.sin(i / 90) + ((i * 7919) % 40)) / 100,
  size: 1 + ((i * 31) % 60),
}));
const csvOf = (records: typeof trades) =>
  `time,price,size\n${records.map(({ time, price, size }) => `${time},${price},${size}\n`).join('')}`;

interface Ran {
  code: number | null;
  out: string;
  error: string;
}
function run(args: string[], input?: string | Uint8Array): Ran {
  const { status, stdout, stderr } = spawnSync(process.execPath, [JAUNTY, ...args], {
    input: input === undefined ? undefined : Buffer.from(input),
    cwd: folder,
  });
  return { code: status, out: stdout.toString(), error: stderr.toString() };
}
const table = (csv: string) =>
  csv
    .trim()
    .split('\n')
    .map((line) => line.split(','));

const calendar = makeCalendar({ zone: 'Atlantic/Faroe', session: '08:30-16:30' });
const bars = (rule: string) =>
  buildBars(
    {
      time: Float64Array.from(trades, ({ time }) => instantOf(time)),
      price: Float64Array.from(trades, ({ price }) => price),
      size: Float64Array.from(trades, ({ size }) => size),
    },
    parseBarRule(rule),
    calendar,
  );

describe('bars', () => {
  it.each(['5 minutes', '1 hour', '40 trades', '2000 units', 'range 0.5', '10 minutes, empty: carry'])('%s', (rule) => {
    const { code, out, error } = run(['bars', 'kelp.csv', '--rule', rule, ...HOURS]);
    expect([code, error]).toEqual([0, '']);
    const [head, ...rows] = table(out);
    const wanted = bars(rule);
    expect(head).toEqual([
      'time',
      'end',
      'open',
      'high',
      'low',
      'close',
      'volume',
      'value',
      'vwap',
      'trades',
      'complete',
    ]);
    for (const name of ['open', 'high', 'low', 'close', 'volume', 'value', 'vwap', 'trades'] as const)
      expect(rows.map((row) => (row[head.indexOf(name)] === '' ? NaN : Number(row[head.indexOf(name)])))).toEqual([
        ...wanted[name],
      ]);
    expect(rows.map((row) => instantOf(row[0]))).toEqual([...wanted.time]);
  });

  it('are the same from standard input, packed, out of order, and by way of Parquet', () => {
    const args = ['--rule', '5 minutes', ...HOURS];
    const plain = run(['bars', 'kelp.csv', ...args]).out;
    writeFileSync(at('kelp.csv.gz'), gzipSync(readFileSync(at('kelp.csv'))));
    writeFileSync(at('turned.csv'), csvOf([...trades.slice(1000), ...trades.slice(0, 1000)]));
    expect(run(['bars', '-', ...args], csvOf(trades)).out).toBe(plain);
    expect(run(['bars', 'kelp.csv.gz', ...args]).out).toBe(plain);
    expect(run(['bars', 'turned.csv', ...args]).out).toBe(plain);
    expect(run(['bars', '-', ...args], csvOf([...trades.slice(1000), ...trades.slice(0, 1000)])).out).toBe(plain);
    // smaller bars, written and read again
    expect(run(['bars', 'kelp.csv', '--rule', '1 minute', ...HOURS, '-o', 'minutes.parquet']).code).toBe(0);
    const again = table(run(['bars', 'minutes.parquet', '--interval', '1 minute', ...args]).out);
    const [head] = again;
    const kept = ['time', 'open', 'high', 'low', 'close', 'volume'].map((name) => head.indexOf(name));
    const chosen = (rows: string[][]) => rows.map((row) => kept.map((column) => row[column]));
    expect(chosen(again)).toEqual(chosen(table(plain)));
  });

  it('go to a file of the format that its name tells', () => {
    for (const name of ['a.csv.gz', 'a.json', 'a.ndjson', 'a.parquet', 'a.arrow'])
      expect(run(['bars', 'kelp.csv', '--rule', '1 hour', ...HOURS, '-o', name]).code).toBe(0);
    const csv = run(['bars', 'kelp.csv', '--rule', '1 hour', ...HOURS]).out;
    expect(gunzipSync(readFileSync(at('a.csv.gz'))).toString()).toBe(csv);
    const { columns, rule } = JSON.parse(readFileSync(at('a.json'), 'utf8'));
    expect([rule, columns.close]).toEqual(['1 hour', [...bars('1 hour').close]]);
    expect(readFileSync(at('a.parquet')).subarray(0, 4).toString()).toBe('PAR1');
  });
});

it('columns are what the core makes of the same formulas', () => {
  const entries = ['r = logreturn(close)', 'wild = stdev(r, 12 bars)', 'ema(close, 9 bars)'];
  const { out, code } = run([
    'columns',
    'kelp.csv',
    '--bars',
    '5 minutes',
    ...HOURS,
    ...entries.flatMap((entry) => ['--entry', entry]),
  ]);
  expect(code).toBe(0);
  const [head, ...rows] = table(out);
  const found = evaluate(entries, frameOf(bars('5 minutes'), calendar, { rule: '5 minutes' }));
  for (const { name, values } of found) {
    const column = head.findIndex((title) => title.replaceAll('"', '') === name || title === name);
    if (name.includes(',')) continue; // a title with a comma is in quotes
    expect(rows.map((row) => (row[column] === '' ? NaN : Number(row[column])))).toEqual([...values]);
  }
  const part = run([
    'columns',
    'kelp.csv',
    '--bars',
    '5 minutes',
    ...HOURS,
    '--entry',
    entries[0],
    '--from',
    '2026-02-02T10:00:00Z',
    '--to',
    '2026-02-02T11:00:00Z',
    '--complete',
  ]);
  expect(table(part.out)).toHaveLength(13);
});

it('a check tells the reading and what it finds, and ends with a code of its own', () => {
  const clean = run(['check', 'kelp.csv', ...HOURS]);
  expect([clean.code, clean.out]).toEqual([0, expect.stringContaining('3,000 records of 3,001 lines')]);
  writeFileSync(at('flawed.csv'), `${csvOf(trades.slice(0, 20))}2026-02-02T09:02:00Z,-1,3\nnonsense,1,1\n`);
  const flawed = run(['--json', 'check', 'flawed.csv', ...HOURS]);
  expect(flawed.code).toBe(3);
  const { tapes } = JSON.parse(flawed.out);
  expect(tapes[0]).toMatchObject({ kind: 'ticks', records: 20, leftOut: 2 });
});

it('lines that are left out are told of, and too many of them are refused', () => {
  const good = csvOf(trades.slice(0, 50));
  writeFileSync(at('some.csv'), `${good}nonsense,1,1\n`);
  const some = run(['bars', 'some.csv', '--rule', '1 hour', ...HOURS]);
  expect([some.code, some.error]).toEqual([0, 'jaunty: 1 line was left out; `jaunty check` tells which\n']);
  writeFileSync(at('most.csv'), `${good}${'nonsense,1,1\n'.repeat(40)}`);
  const most = run(['bars', 'most.csv', '--rule', '1 hour', ...HOURS]);
  expect([most.code, most.error]).toEqual([
    1,
    expect.stringContaining('most.csv, line 52: 40 of 91 lines cannot be read'),
  ]);
});

it('one of several instruments is chosen', () => {
  const line = ({ time, price, size }: (typeof trades)[number], name: string) => `${time},${name},${price},${size}\n`;
  writeFileSync(
    at('two.csv'),
    `time,symbol,price,size\n${trades.map((one, at) => line(one, at % 2 === 0 ? 'KELP' : 'SALT')).join('')}`,
  );
  const both = run(['bars', 'two.csv', '--rule', '1 hour', ...HOURS]);
  expect([both.code, both.error]).toEqual([
    1,
    expect.stringContaining('several instruments (KELP, SALT); choose one with --tape'),
  ]);
  writeFileSync(at('salt_alone.csv'), csvOf(trades.filter((_, at) => at % 2 === 1)));
  const wanted = run(['bars', 'salt_alone.csv', '--rule', '1 hour', ...HOURS]).out;
  expect(run(['bars', 'two.csv', '--tape', 'SALT', '--rule', '1 hour', ...HOURS]).out).toBe(wanted);
  expect(run(['bars', 'two.csv', '--tape', 'NONE', '--rule', '1 hour', ...HOURS]).error).toContain(
    'There is no instrument NONE',
  );
});

it('a ledger goes over many files: a table and a picture each, and what cannot be read is told of', () => {
  const lane = (base: string, entries: object[]) => ({ id: base, base, weight: 1, entries });
  const ledger = {
    format: 'jaunty-ledger/1',
    title: 'Means',
    body: {
      ...{ tape: 'KELP', rule: '5 minutes', view: null },
      lanes: [lane('price', [{ id: 'a', text: 'fan = mean(close, [5, 10] bars)', ink: 2 }]), lane('volume', [])],
    },
  };
  writeFileSync(at('means.json'), JSON.stringify(ledger));
  writeFileSync(at('salt.csv'), csvOf(trades.slice(500)));
  const { code, error } = run(['ledger', 'means.json', 'kelp.csv', 'none.csv', 'salt.csv', '--out', 'done', ...HOURS]);
  expect([code, error]).toEqual([1, 'jaunty: none.csv: There is no such file or folder.\n']);
  expect(table(readFileSync(at('done/kelp.csv'), 'utf8'))[0].slice(-2)).toEqual(['fan[5]', 'fan[10]']);
  expect(readFileSync(at('done/salt.svg'), 'utf8')).toMatch(/^<svg.*<path d="M.*<\/svg>$/s);
});

it('an examination and a projection', () => {
  const examined = run(['examine', 'kelp.csv', '--bars', '5 minutes', '--entry', 'close', ...HOURS]);
  expect(examined.out).toContain('Is it stationary?');
  const projected = table(
    run(['project', 'kelp.csv', '--bars', '5 minutes', '--entry', 'close', '--model', 'last', '--ahead', '3', ...HOURS])
      .out,
  );
  expect(projected.map(([model, , ahead, value]) => [model, ahead, value])).toEqual([
    ['model', 'ahead', 'value'],
    ...['1', '2', '3'].map((ahead) => ['last', ahead, String(bars('5 minutes').close.at(-1))]),
  ]);
});

describe('what cannot be done', () => {
  it.each([
    [
      ['bars', 'kelp.csv', '--rule', '5 flowers'],
      1,
      'jaunty: `flowers` is no unit for bars: seconds, minutes, hours, day, week, month, quarter, year, trades, units or value\n  5 flowers\n    ^\n',
    ],
    [
      ['columns', 'kelp.csv', '--bars', '1 hour', '--entry', 'x = meen(close, 3 bars)'],
      1,
      'jaunty: no function is called `meen`; did you mean `mean`?\n  x = meen(close, 3 bars)\n      ^^^^\n',
    ],
    [['bars', 'none.csv', '--rule', '1 day'], 1, 'jaunty: none.csv: There is no such file or folder.\n'],
    [['bars', 'kelp.csv'], 2, expect.stringContaining("'--rule <rule>' not specified")],
    [['bars', 'kelp.csv', '--rule', '1 day', '--weekdays', 'Mon,Moon'], 2, expect.stringContaining('Moon is none of')],
    [['functions', 'toString'], 1, expect.stringContaining('No function is called toString')],
  ] as const)('%j', (args, code, error) => {
    expect(run([...args])).toEqual({ code, out: '', error });
  });

  it('is told as JSON on request, with the line of a file', () => {
    writeFileSync(at('broken.csv'), 'alpha,beta\n1,2\n');
    const { code, error } = run(['--json', 'bars', 'broken.csv', '--rule', '1 day']);
    expect([code, JSON.parse(error)]).toEqual([
      1,
      expect.objectContaining({ code: 'no-time-column', file: 'broken.csv', line: 1 }),
    ]);
  });
});

it('help, completion and manual are made of one text', () => {
  const help = run(['bars', '--help']).out.replaceAll(/\s+/g, ' ');
  expect(help).toContain('how bars are cut');
  const manual = run(['manual']).out;
  for (const command of ['check', 'bars', 'columns', 'ledger', 'examine', 'project', 'functions']) {
    expect(run(['--help']).out).toContain(command);
    expect(manual).toContain(`.SS ${command}`);
    for (const shell of ['bash', 'zsh', 'fish']) expect(run(['completion', shell]).out).toContain(command);
  }
});

it('runs from the packed package, without the project', () => {
  const workspace = fileURLToPath(new URL('..', import.meta.url));
  const packed = execFileSync('npm', ['pack', '--silent', '--pack-destination', folder], {
    cwd: workspace,
    encoding: 'utf8',
  }).trim();
  execFileSync('tar', ['xzf', packed], { cwd: folder });
  expect(existsSync(at('package/dist/jaunty.js'))).toBe(true);
  expect(existsSync(at('package/src'))).toBe(false);
  const found = spawnSync(
    process.execPath,
    [at('package/dist/jaunty.js'), 'bars', 'kelp.csv', '--rule', '1 hour', ...HOURS],
    { cwd: folder, encoding: 'utf8' },
  );
  expect(table(found.stdout)).toHaveLength(bars('1 hour').time.length + 1);
});
