import { tableFromIPC } from 'apache-arrow';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';
import { folders, origin } from './ownServer';

/* What a program sees of the book. */

const trades =
  'time,price,size\n2026-02-02T08:30:00.5Z,84.20,15\n2026-02-02T08:31:00Z,84.3,5\n2026-02-02T08:30:30Z,84.1,\n';
const post = (query: string, body: BodyInit, init: RequestInit = {}) =>
  fetch(`${origin}/api/tapes?${query}`, { method: 'POST', body, ...init });
const names = async () =>
  ((await (await fetch(`${origin}/api/tapes?limit=1000`)).json()) as { name: string }[]).map(({ name }) => name);
const csvOf = async (path: string, init: RequestInit = {}) =>
  (await (await fetch(origin + path, { ...init, headers: { accept: 'text/csv' } })).text()).trim().split('\n');

describe('a tape', () => {
  beforeAll(async () => {
    const answer = await post('name=SMALL&zone=Atlantic/Faroe&file=small.csv', trades);
    expect(answer.status).toBe(201);
    expect(await answer.json()).toMatchObject({
      name: 'SMALL',
      kind: 'ticks',
      rows: 3,
      from: '2026-02-02T08:30:00.5Z',
      to: '2026-02-02T08:31:00Z',
      report: {
        file: 'small.csv',
        lines: 4,
        leftOutCount: 0,
        sha256: expect.stringMatching(/^[0-9a-f]{64}$/),
        findings: expect.arrayContaining([expect.objectContaining({ id: 'out-of-order', count: 1 })]),
      },
    });
  });

  it('gives its records back in order of time, with their lines and flags', async () =>
    expect(await csvOf('/api/tapes/SMALL/records')).toEqual([
      'time,price,size,line,flags',
      '2026-02-02T08:30:00.5Z,84.2,15,2,0',
      '2026-02-02T08:30:30Z,84.1,,4,0',
      '2026-02-02T08:31:00Z,84.3,5,3,0',
    ]));

  it('gives a page of its records, by row or by time, and figures of all', async () => {
    const page = await (await fetch(`${origin}/api/tapes/SMALL/records?offset=1&limit=1`)).json();
    expect(page).toMatchObject({ offset: 1, more: true, columns: { price: [84.1] } });
    const from = await (await fetch(`${origin}/api/tapes/SMALL/records?from=2026-02-02T08:30:31Z`)).json();
    expect(from).toMatchObject({ offset: 2, more: false, columns: { price: [84.3] } });
    const summary = await (await fetch(`${origin}/api/tapes/SMALL/summary`)).json();
    expect(summary.columns[1]).toMatchObject({
      name: 'size',
      count: 2,
      missing: 1,
      mean: 10,
      min: 5,
      median: 10,
      max: 15,
    });
  });

  it('gives bars as CSV, JSON and Arrow, with the same figures', async () => {
    const path = '/api/tapes/small/bars?rule=1+minute'; // names go whatever their capitals
    expect(await csvOf(path)).toEqual([
      'time,end,open,high,low,close,volume,value,vwap,trades,complete',
      '2026-02-02T08:30:00Z,2026-02-02T08:31:00Z,84.2,84.2,84.1,84.1,15,1263,84.2,2,0',
      '2026-02-02T08:31:00Z,2026-02-02T08:32:00Z,84.3,84.3,84.3,84.3,5,421.5,84.3,1,0',
    ]);
    const json = await (await fetch(origin + path)).json();
    expect(json).toMatchObject({ tape: 'SMALL', rule: '1 minute', leftOut: 0, columns: { close: [84.1, 84.3] } });
    const arrow = await fetch(origin + path, { headers: { accept: 'application/vnd.apache.arrow.stream' } });
    const table = tableFromIPC(new Uint8Array(await arrow.arrayBuffer()));
    expect([...table.getChild('close')!]).toEqual([84.1, 84.3]);
    expect(table.getChild('time')!.get(0)).toBe(Date.parse('2026-02-02T08:30:00Z'));
  });

  it('gives only the bars of a range', async () =>
    expect((await csvOf('/api/tapes/SMALL/bars?rule=1+minute&from=2026-02-02T08:31:00Z')).length).toBe(2));

  it('gives columns for formulas, in one table with the bars', async () => {
    const body = JSON.stringify({
      tape: 'SMALL',
      bars: '1 minute',
      entries: ['r = change(close)', 'mean(close, [1, 2] bars)'],
    });
    const rows = await csvOf('/api/columns', { method: 'POST', body });
    expect(rows[0]).toContain('complete,r,"mean(close, [1, 2] bars)[1]"');
    expect(rows[1].split(',').slice(-3)).toEqual(['', '84.1', '']);
  });

  it('is gone when it is deleted, and can be brought back', async () => {
    await post('name=GONE', trades);
    expect((await fetch(`${origin}/api/tapes/GONE`, { method: 'DELETE' })).status).toBe(204);
    expect((await fetch(`${origin}/api/tapes/GONE`)).status).toBe(404);
    expect((await fetch(`${origin}/api/tapes/GONE/restore`, { method: 'POST' })).status).toBe(200);
    expect((await csvOf('/api/tapes/GONE/records')).length).toBe(4);
  });

  it('takes another name, and its ledgers follow', async () => {
    await post('name=OLD', trades);
    const body = {
      tape: 'OLD',
      rule: '1 hour',
      view: null,
      lanes: [{ id: 'p', base: 'price', weight: 1, entries: [] }],
    };
    const ledger = await (
      await fetch(`${origin}/api/ledgers`, { method: 'POST', body: JSON.stringify({ title: 'Old', body }) })
    ).json();
    const rename = (change: object) =>
      fetch(`${origin}/api/tapes/OLD`, { method: 'PATCH', body: JSON.stringify(change) });
    expect((await rename({ name: 'KELP' })).status).toBe(409);
    expect((await rename({ session: 'morning' })).status).toBe(400);
    expect((await rename({ name: 'NEW', session: '08:30-16:30' })).status).toBe(200);
    expect((await (await fetch(`${origin}/api/ledgers/${ledger.id}`)).json()).body.tape).toBe('NEW');
  });

  it('takes in a further file, and doubles nothing that it has', async () => {
    await post('name=GROWS', trades);
    const more =
      'time,price,size\n2026-02-02T08:31:00Z,84.3,5\n2026-02-02T08:30:45Z,84.5,1\n2026-02-02T08:32:00Z,84.4,7\n';
    const answer = await fetch(`${origin}/api/tapes/GROWS/append`, { method: 'POST', body: more });
    expect(await answer.json()).toMatchObject({
      rows: 5,
      version: 2,
      appended: [{ findings: expect.arrayContaining([expect.objectContaining({ id: 'repeat', count: 1 })]) }],
    });
    expect((await csvOf('/api/tapes/GROWS/records')).slice(1).map((row) => row.split(',')[1])).toEqual([
      '84.2',
      '84.1',
      '84.5',
      '84.3',
      '84.4',
    ]);
    expect(
      (await fetch(`${origin}/api/tapes/GROWS/append`, { method: 'POST', body: 'time,bid,ask\n1770021000,1,2\n' }))
        .status,
    ).toBe(400);
  });

  it('knows the words of a further file, and the lines that were left out of it', async () => {
    const words = 'name=WORDS&columns=time,price,text%3Dvenue&header=yes';
    await post(words, 'time,price,venue\n1770021000,84.2,North\n1770021060,84.3,South\n');
    const more = 'time,price,venue\n1770021120,84.4,West\n1770021180,-3,South\n1770021240,84.5,North\n';
    const query = 'columns=time,price,text%3Dvenue&header=yes&file=more.csv';
    const answer = await fetch(`${origin}/api/tapes/WORDS/append?${query}`, { method: 'POST', body: more });
    expect(await answer.json()).toMatchObject({ rows: 4, texts: [{ name: 'venue', title: 'venue', words: 3 }] });
    expect(await csvOf('/api/tapes/WORDS/records').then((rows) => rows.map((row) => row.split(',')[2]))).toEqual([
      'venue',
      'North',
      'South',
      'West',
      'North',
    ]);
    expect(await (await fetch(`${origin}/api/tapes/WORDS/left-out`)).text()).toBe(
      '# line 3 of more.csv: price -3 is not above 0\n1770021180,-3,South\n',
    );
  });

  it('gives the words of its last record with each bar, and groups by them', async () => {
    expect(
      await csvOf('/api/tapes/WORDS/bars?rule=2+minutes').then((rows) => rows.map((row) => row.split(',').at(-1))),
    ).toEqual(['venue', 'South', 'West', 'North']);
    const body = { tape: 'WORDS', bars: '1 minute', entries: ['n = cumulative(trades, each: venue)'] };
    const answer = await fetch(`${origin}/api/columns`, { method: 'POST', body: JSON.stringify(body) });
    expect((await answer.json()).columns).toMatchObject({
      venue: ['North', 'South', 'West', 'North'],
      n: [1, 1, 1, 2],
    });
  });

  it('is flagged anew by a calendar that is set later; other flags stay', async () => {
    const times = ['2026-02-02T08:30:00Z', '2026-02-02T08:30:00Z', '2026-02-02T18:00:00Z', '2026-02-03T09:00:00Z'];
    await post('name=LATER&zone=UTC', `time,price,size\n${times.map((time) => `${time},84.2,1`).join('\n')}\n`);
    const flags = async () =>
      (await csvOf('/api/tapes/LATER/records')).slice(1).map((row) => Number(row.split(',')[4]));
    const change = async (calendar: object) =>
      (await fetch(`${origin}/api/tapes/LATER`, { method: 'PATCH', body: JSON.stringify(calendar) })).json();
    const [, repeat] = await flags();
    expect(await flags()).toEqual([0, repeat, 0, 0]);
    expect(await change({ session: '08:00-17:00', closed: ['2026-02-03'] })).toMatchObject({
      flagged: 3,
      calendarCheck: { outside: 1, closedDate: 1 },
    });
    const [first, second, outside, closed] = await flags();
    expect([first, second, new Set([0, repeat, outside, closed]).size]).toEqual([0, repeat, 4]);
    expect(await change({ session: null, closed: null })).toMatchObject({ flagged: 1 });
    expect(await flags()).toEqual([0, repeat, 0, 0]);
  });

  it('leaves flagged records out of its bars if asked to', async () => {
    await post('name=FLAGS', 'time,price,size\n1770021000,1,1\n1770021000,1,1\n1770021001,1,1\n');
    const trades = async (query: string) =>
      (await (await fetch(`${origin}/api/tapes/FLAGS/bars?rule=1+hour${query}`)).json()).columns.trades;
    expect([await trades(''), await trades('&flagged=no')]).toEqual([[3], [2]]);
    expect((await csvOf('/api/tapes/FLAGS/records?flagged=only')).length).toBe(2);
    await fetch(`${origin}/api/tapes/FLAGS`, { method: 'PATCH', body: '{"session":"10:00-11:00"}' });
    const flagged = async (kind: string) => (await csvOf(`/api/tapes/FLAGS/records?flagged=${kind}`)).length - 1;
    expect([await flagged('only'), await flagged('in-session')]).toEqual([3, 1]);
    // from a row on, and the answer says which row it found
    const found = async (offset: number) =>
      (await fetch(`${origin}/api/tapes/FLAGS/records?flagged=in-session&offset=${offset}&limit=1`)).json();
    expect(await found(1)).toMatchObject({ offset: 1, columns: { line: [3] } });
    expect((await found(2)).columns.line).toEqual([]);
    expect((await found(9)).columns.line).toEqual([]);
  });

  it('gives the lines that were left out, as they stood', async () => {
    const lines = Array.from({ length: 30 }, (_, i) => `${1770021000 + i},84.2`).join('\n');
    await post('name=LEFT', `time,price\n${lines}\nnoon , "84,2"\n`);
    expect(await (await fetch(`${origin}/api/tapes/LEFT/left-out`)).text()).toBe(
      '# line 32: `noon` is no time\nnoon , "84,2"\n',
    );
  });
});

describe('names that every object has', () => {
  const names = ['toString', 'constructor', 'valueOf', '__proto__', 'hasOwnProperty'];

  it('are names of entries like any other, in every format', async () => {
    const entries = names.map((name, at) => `${name} = close + ${at}`);
    const body = JSON.stringify({ tape: 'SMALL', bars: '1 minute', entries });
    const asked = (accept: string) => fetch(`${origin}/api/columns`, { method: 'POST', body, headers: { accept } });
    const { columns } = JSON.parse(await (await asked('application/json')).text()) as { columns: object };
    for (const [at, name] of names.entries())
      expect(Object.entries(columns)).toContainEqual([name, [84.1 + at, 84.3 + at]]);
    const lines = (await (await asked('text/csv')).text()).trim().split('\n');
    expect(lines[0].split(',').slice(-5)).toEqual(names);
    const rows = (await (await asked('application/x-ndjson')).text()).trim().split('\n');
    expect(rows[0].endsWith(names.map((name, at) => `"${name}":${84.1 + at}`).join() + '}')).toBe(true);
    const table = tableFromIPC(
      new Uint8Array(await (await asked('application/vnd.apache.arrow.stream')).arrayBuffer()),
    );
    expect(table.schema.fields.map(({ name }) => name).slice(-5)).toEqual(names);
  });

  it('are no formats, and no bars', async () => {
    for (const accept of names)
      expect((await fetch(`${origin}/api/tapes/SMALL/bars?rule=1+day`, { headers: { accept } })).status).toBe(406);
    for (const name of names) expect((await fetch(`${origin}/api/tapes/SMALL/bars?rule=5+${name}`)).status).toBe(400);
  });
});

describe('a format', () => {
  it.each([
    ['text/csv;q=0.5, application/json;q=0.9', 'application/json'],
    ['application/json;q=0.1, text/csv', 'text/csv'],
    ['text/*', 'text/csv'],
    ['image/png, */*;q=0.1', 'application/json'],
  ])('is the one that %s likes best', async (accept, type) => {
    const answer = await fetch(`${origin}/api/tapes/SMALL/bars?rule=1+day`, { headers: { accept } });
    expect(answer.headers.get('content-type')).toBe(type);
  });
});

describe('formulas kept for every ledger', () => {
  const entries = `${origin}/api/entries`;
  const keep = (body: object) => fetch(entries, { method: 'POST', body: JSON.stringify(body) });

  it('come back the newest first, one for each name, until they are kept no longer', async () => {
    await keep({ name: 'slow', formula: 'mean(close, 60 bars)' });
    await keep({ name: 'wild', formula: 'stdev(return(close), 20 bars)' });
    expect((await keep({ name: 'slow', formula: 'ema(close, 60 bars)' })).status).toBe(201);
    expect(await (await fetch(entries)).json()).toEqual([
      { name: 'slow', formula: 'ema(close, 60 bars)' },
      { name: 'wild', formula: 'stdev(return(close), 20 bars)' },
    ]);
    for (const name of ['slow', 'wild', 'none'])
      expect((await fetch(`${entries}/${name}`, { method: 'DELETE' })).status).toBe(204);
    expect(await (await fetch(entries)).json()).toEqual([]);
  });

  it.each([
    [{ name: 'slow', formula: 'mean(close' }, /formula/],
    [{ name: 'two words', formula: 'close' }, /a plain word/],
    [{ name: 'slow' }, /formula/],
  ])('are refused where they are none: %j', async (body, detail) => {
    const answer = await keep(body);
    expect(answer.status).toBe(400);
    expect(((await answer.json()) as { detail: string }).detail).toMatch(detail);
  });
});

describe('a reading', () => {
  const preview = async (head: string, choices = {}) =>
    (
      await fetch(`${origin}/api/readings`, {
        method: 'POST',
        body: JSON.stringify({ head: btoa(head), tail: '', choices, zone: 'UTC' }),
      })
    ).json();
  const file = 'day;level\n03/02/2026;84,2\n04/02/2026;84,3\n';

  it('is proposed with what stands in the file beside what it is read as, and what is open', async () =>
    expect(await preview(file)).toMatchObject({
      reading: {
        delimiter: ';',
        decimal: ',',
        header: true,
        kind: 'series',
        columns: [{ role: 'date' }, { role: 'value', name: 'level' }],
      },
      first: [{ line: 2, cells: ['03/02/2026', '84,2'], read: ['2026-02-03', '84.2'] }, {}],
      open: ['dateOrder'],
    }));

  it('follows what is chosen, and is kept for files of the same shape', async () => {
    const chosen = await preview(file, { dateOrder: 'month-first' });
    expect(chosen.first[0].read[0]).toBe('2026-03-02');
    const { shape } = chosen;
    await fetch(`${origin}/api/profiles`, {
      method: 'POST',
      body: JSON.stringify({ name: 'levels', shape, choices: { dateOrder: 'month-first' } }),
    });
    expect(await preview(file)).toMatchObject({ profile: 'levels', open: [] });
    const entered = await (await post('name=LEVELS&profile=levels', file)).json();
    expect(entered).toMatchObject({ kind: 'series', from: '2026-03-02T00:00:00Z' });
  });
});

describe('a refusal is problem+json, says what would be right, and leaves nothing behind', () => {
  it.each([
    ['name=BAD', '', 422, 'empty-file'],
    ['name=BAD', 'colour,price\nred,1\n', 422, 'no-time-column'],
    ['name=BAD&checks=repeat:ignore', trades, 400, 'invalid-query'],
    ['name=BAD&columns=time,colour', trades, 400, 'invalid-query'],
    ['name=BAD', '1770021000,1\n1770021001,abc\n', 422, 'unreadable-lines'],
    ['name=KELP', trades, 409, 'name-taken'],
    ['name=BAD&zone=Atlantis', trades, 400, 'invalid-query'],
    ['name=BAD&session=8-16', trades, 400, 'invalid-query'],
    ['name=../etc', trades, 400, 'invalid-query'],
    ['name=BAD&colour=red', trades, 400, 'invalid-query'],
  ])('%s', async (query, body, status, code) => {
    const before = await names();
    const answer = await post(query, body);
    expect(answer.status).toBe(status);
    expect(answer.headers.get('content-type')).toBe('application/problem+json');
    expect(await answer.json()).toMatchObject({ code, status, detail: expect.stringMatching(/[.?]$/) });
    expect(await names()).toEqual(before);
    for (const folder of folders) expect(readdirSync(join(folder, 'incoming'))).toEqual([]);
  });

  it('says where in a rule or a formula', async () => {
    const rule = await fetch(`${origin}/api/tapes/KELP/bars?rule=5+minuts`);
    expect([rule.status, await rule.json()]).toMatchObject([400, { code: 'invalid-rule', position: 2 }]);
    const body = JSON.stringify({ tape: 'KELP', bars: '1 hour', entries: ['a = close', 'b = mean(a)'] });
    const formula = await fetch(`${origin}/api/columns`, { method: 'POST', body });
    expect([formula.status, await formula.json()]).toMatchObject([
      422,
      { code: 'invalid-formula', position: 10, entry: 'b = mean(a)', entryIndex: 1 },
    ]);
  });

  it('refuses pages of other sites, and names that were bent to this address', async () => {
    const foreign = await post('name=FOREIGN', trades, { headers: { origin: 'http://elsewhere.example' } });
    expect(foreign.status).toBe(403);
    expect(await names()).not.toContain('FOREIGN');
  });

  it('of two imports of one name enters one', async () => {
    const answers = await Promise.all([post('name=TWICE', trades), post('name=TWICE', trades)]);
    expect(answers.map(({ status }) => status).sort()).toEqual([201, 409]);
  });
});

describe('a ledger', () => {
  it('is saved on the version it was made on, and on no other', async () => {
    const body = {
      tape: 'KELP',
      rule: '1 hour',
      view: null,
      lanes: [{ id: 'p', base: 'price', weight: 1, entries: [] }],
    };
    const send = (path: string, method: string, content: unknown) =>
      fetch(`${origin}/api/ledgers${path}`, { method, body: JSON.stringify(content) });
    const made = await (await send('', 'POST', { title: 'Mine', body })).json();
    const saved = await send(`/${made.id}`, 'PUT', { title: 'Mine, later', body, version: made.version });
    expect(await saved.json()).toMatchObject({ title: 'Mine, later', version: 2 });
    expect((await send(`/${made.id}`, 'PUT', { title: 'Lost', body, version: made.version })).status).toBe(409);
    expect((await send('', 'POST', { title: 'Bad', body: { ...body, colour: 'red' } })).status).toBe(400);
    const wrong = await send('', 'POST', { title: 'Bad', body: { ...body, rule: '5 fortnights' } });
    expect([wrong.status, await wrong.text()]).toEqual([
      400,
      expect.stringContaining('`fortnights` is no unit for bars'),
    ]);
    expect((await fetch(`${origin}/api/ledgers/${made.id}?version=1`, { method: 'DELETE' })).status).toBe(409);
    expect((await fetch(`${origin}/api/ledgers/${made.id}?version=2`, { method: 'DELETE' })).status).toBe(204);
    const huge = { ...body, view: { from: 'x'.repeat(1000), to: '2026-02-02T08:30:00Z' } };
    expect((await send('', 'POST', { title: 'Bad', body: huge })).status).toBe(400);
    const note = { id: 'n', at: 'noon', text: '' };
    expect((await send('', 'POST', { title: 'Bad', body: { ...body, notes: [note] } })).status).toBe(400);
  });
});

it('the demo world is there: six instruments as trades, minutes and days, and data that are no prices', async () => {
  const shelf = await names();
  expect(shelf).toEqual(
    expect.arrayContaining(['LANDINGS', 'HARBOUR_AIR', 'Northquay', 'Oldtown', 'Skerries', 'CHANDLER']),
  );
  for (const name of ['AMBR', 'KELP', 'LAMP', 'SALT', 'TIDE', 'WOOL'])
    expect(shelf).toEqual(expect.arrayContaining([name, `${name}_minutes`, `${name}_days`]));
});

describe('further columns of numbers', () => {
  const bars = (factor: number) =>
    `date,open,high,low,close,open interest\n2026-01-05,84,85,83,84.5,${100 * factor}\n2026-01-06,84.5,86,84,85,${110 * factor}\n`;

  it('are known to formulas, of other tapes too, on larger bars, and come out with the bars', async () => {
    await post('name=FURTHER', bars(1));
    await post('name=OTHER_FURTHER', bars(2));
    const entries = [
      'm = mean(open_interest, 2 bars)',
      'o = OTHER_FURTHER.open_interest',
      'w = open_interest on 1 week',
    ];
    const body = JSON.stringify({ tape: 'FURTHER', bars: '1 day', entries });
    const { columns } = await (await fetch(`${origin}/api/columns`, { method: 'POST', body })).json();
    expect(columns).toMatchObject({ open_interest: [100, 110], m: [null, 105], o: [200, 220] });
    expect(columns.w).toHaveLength(2);
  });

  it('come to what the rule says in a bar, as single values and prices do; other tapes take what they have of it', async () => {
    const columnsOf = async (tape: string, rule: string, entries: string[]) => {
      const body = JSON.stringify({ tape, bars: rule, entries });
      return (await (await fetch(`${origin}/api/columns`, { method: 'POST', body })).json()).columns;
    };
    const rule = '1 week, take open_interest: sum, adjusted: open_interest';
    expect(await columnsOf('FURTHER', rule, ['k = KELP_days.close', 'o = OTHER_FURTHER.close'])).toMatchObject({
      open_interest: [210],
      close: [110],
      open: [(84 * 100) / 84.5],
      o: [220],
    });
    await post('name=LANDED', 'day,landed\n2026-01-30,1\n2026-01-31,4\n2026-02-01,0\n2026-02-02,-2\n');
    const sums = await columnsOf('LANDED', '1 month, take: sum', ['x = close']);
    const daily = await columnsOf('LANDED', '1 day', ['x = sum(close, this month)']);
    expect([sums.x, daily.x]).toEqual([
      [5, -2],
      [1, 5, 0, -2],
    ]);
    const refused = await fetch(`${origin}/api/tapes/KELP/bars?rule=1 day, adjusted: weight`);
    expect([refused.status, (await refused.json()).detail]).toEqual([400, expect.stringContaining('no further ones')]);
  });
});
