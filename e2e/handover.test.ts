import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Reader } from './reader';

/* Hand over: from an open ledger to a page with words, a chart and a table; kept, changed, read and handed out. */

let reader: Reader;

beforeAll(async () => {
  reader = await Reader.arrive();
});
afterAll(() => reader.leave());

const api = async (path: string, init?: RequestInit) => {
  const answer = await fetch(`${reader.origin}/api/${path}`, init);
  return { status: answer.status, body: (await answer.json().catch(() => undefined)) as never };
};
const post = (path: string, body: unknown) => api(path, { method: 'POST', body: JSON.stringify(body) });
const at = (test: () => boolean) => reader.page.waitForFunction(test);
const idOf = () => Number(new URL(reader.page.url()).pathname.split('/').at(-1));
/** The page as it is kept, once something holds of it. */
async function kept(holds: (page: { version: number; title: string; body: Body }) => boolean) {
  for (let tries = 0; tries < 50; tries++) {
    const { body } = await api(`handovers/${idOf()}`);
    if (holds(body)) return body as { version: number; title: string; body: Body };
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error('what was changed was not kept');
}
interface Body {
  reader: string;
  changes: string[];
  blocks: {
    id: string;
    kind: string;
    text?: string;
    figures?: { says: string; text: string; problem: string }[];
    kept?: { origin: object; time: string[]; columns: Record<string, unknown> };
  }[];
}

const csvOf = (closes: readonly number[]): string =>
  [
    'date,close',
    ...closes.map((close, day) => `${new Date(Date.UTC(2026, 0, 5 + day)).toISOString().slice(0, 10)},${close}`),
  ].join('\n');
const CLOSES = Array.from({ length: 60 }, (_, day) => Number((100 + day / 2 + 5 * Math.sin(day / 4)).toFixed(2)));

it('takes what a ledger shows to a new page, in words, as a chart and as a table', async () => {
  const sent = await fetch(`${reader.origin}/api/tapes?name=HANDED`, { method: 'POST', body: csvOf(CLOSES) });
  expect(sent.status).toBe(201);
  await post('ledgers', {
    title: 'Handed on',
    body: {
      ...{ tape: 'HANDED', rule: '1 day', view: null },
      lanes: [
        { id: 'a', base: 'price', weight: 1, entries: [{ id: 's', text: 'smooth = mean(close, 10 bars)', ink: 2 }] },
      ],
    },
  });
  await reader.openLedger('HANDED');
  await reader.page.keyboard.press('h');
  await reader.click('button', 'Hand over');
  await at(() => /^\/handover\/\d+$/.test(location.pathname));
  await reader.sees('HANDED stood at');
  // the words, checked another way
  const last = CLOSES.at(-1)!;
  const mean = CLOSES.slice(-10).reduce((a, b) => a + b, 0) / 10;
  const since = CLOSES.findLastIndex((close, day) => {
    const before = CLOSES.slice(day - 9, day + 1).reduce((a, b) => a + b, 0) / 10;
    return close > before !== last > mean;
  });
  await reader.sees(last.toFixed(2));
  await reader.sees(
    `It has stood ${last > mean ? 'above' : 'below'} smooth, the mean of close over 10 bars, at ${mean.toFixed(2)}, for ${59 - since} day`,
  );
  const change = 100 * (last / CLOSES.at(-6)! - 1);
  await reader.sees(`${change < 0 ? '−' : '+'}${Math.abs(change).toFixed(2)} %`);
  await reader.sees('smooth by about 4.5 days');
  await reader.find('article figure svg[role="img"]');
  await reader.sees('smooth begins on 2026-01-14, 9 rows short.');
  await reader.sees('latest values');
});

describe('a page', () => {
  it('has words with figures that are worked out, and says at its place what cannot be', async () => {
    await reader.click('button', 'a paragraph');
    const field = await reader.control('textbox', 'Words of the paragraph');
    await field.type('# Our view\n\nHighest {max(close, 5 bars)}, then {nonsense(close)}.');
    await reader.page.keyboard.press('Tab');
    await reader.sees(Math.max(...CLOSES.slice(-5)).toFixed(2));
    await reader.sees('nonsense');
    const { body } = await kept(({ body }) => body.blocks.some(({ figures = [] }) => figures.length === 2));
    const figures = body.blocks.at(-1)!.figures!;
    expect(figures[0]).toMatchObject({ text: Math.max(...CLOSES.slice(-5)).toFixed(2), problem: '' });
    expect(figures[1].problem).toContain('nonsense');
    await reader.find('article s');
  });

  it('has its blocks moved by keys and taken out, and that undone', async () => {
    const kinds = ({ body }: { body: Body }) => body.blocks.map(({ kind }) => kind).join(' ');
    await reader.page.focus('nav[aria-label="Blocks"] ol li:last-child button');
    await reader.page.keyboard.down('Alt');
    await reader.page.keyboard.press('ArrowUp');
    await reader.page.keyboard.up('Alt');
    await kept((page) => kinds(page) === 'paragraph chart paragraph table');
    await reader.page.focus('nav[aria-label="Blocks"] ol li:nth-child(2) button');
    await reader.page.keyboard.press('Delete');
    await kept((page) => kinds(page) === 'paragraph paragraph table');
    await reader.click('button', 'undo');
    await kept((page) => kinds(page) === 'paragraph chart paragraph table');
  });

  it('has a chart whose lines are named, drawn and left out as one chooses', async () => {
    await reader.page.click('nav[aria-label="Blocks"] ol li:nth-child(2) button');
    const label = await reader.control('textbox', 'Name of smooth');
    await label.click({ count: 3 });
    await label.type('mean over ten days');
    await reader.page.keyboard.press('Tab');
    await reader.sees('mean over ten days begins on');
    await reader.page.select('[aria-label="How close is drawn"]', 'out');
    await at(() => !document.querySelector('.legend')!.textContent!.includes('close'));
    const { body } = await kept(({ body }) => JSON.stringify(body).includes('"as":"out"'));
    const chart = body.blocks[1].id;
    const csv = await (
      await fetch(`${reader.origin}/api/handovers/${idOf()}/figures?block=${chart}&format=csv`)
    ).text();
    expect(csv.split('\n')[0]).toBe('time,close,smooth');
    const refused = await api(`handovers/${idOf()}/figures?block=none&format=csv`);
    expect([refused.status, refused.body]).toMatchObject([400, { code: 'invalid-query' }]);
  });

  it('is told of a change in another window, and loses nothing of either', async () => {
    const { version, title, body } = await kept(() => true);
    const change = { title, version, body: { ...body, reader: 'the other window' } };
    const put = (of: unknown) => api(`handovers/${idOf()}`, { method: 'PUT', body: JSON.stringify(of) });
    expect((await put(change)).status).toBe(200);
    expect(await put(change)).toMatchObject({ status: 409, body: { code: 'page-changed' } });
    await reader.page.reload();
    expect(await reader.page.$eval('[aria-label="Who it is for"]', (field) => (field as HTMLInputElement).value)).toBe(
      'the other window',
    );
  });

  it('is refused where it could not be read afterwards', async () => {
    const { title, body } = await kept(({ body }) => body.blocks.some(({ kind }) => kind === 'chart'));
    const chart = body.blocks.find((block) => block.kind === 'chart')!;
    const of = (change: object) => ({ ...chart, kept: { ...chart.kept!, ...change } });
    const origin = (change: object) => of({ origin: { ...chart.kept!.origin, ...change } });
    for (const [block, at] of [
      [origin({ zone: 'Nowhere/At_all' }), 'origin.zone'],
      [origin({ decimals: 200 }), 'origin.decimals'],
      [origin({ to: 'soon' }), 'origin.to'],
      [of({ time: chart.kept!.time.map(() => 'then') }), 'time.0'],
      [of({ columns: { ...chart.kept!.columns, close: [1] } }), 'columns.close'],
      [{ id: 'g', kind: 'given', title: '', head: ['a', 'b'], rows: [['1']], source: '' }, 'blocks.0.rows.0'],
    ] as const) {
      const refused = await post('handovers', { title, body: { ...body, blocks: [block] } });
      expect([refused.status, JSON.stringify(refused.body)]).toEqual([400, expect.stringContaining(at)]);
    }
  });

  it('is the same in a year, and its next issue has the figures of today and says what has changed', async () => {
    const before = idOf();
    const { body } = await kept(() => true);
    const more = csvOf([...CLOSES, 150]).split('\n');
    const sent = await fetch(`${reader.origin}/api/tapes/HANDED/append`, {
      method: 'POST',
      body: [more[0], more.at(-1)].join('\n'),
    });
    expect(sent.status).toBe(200);
    await reader.page.reload();
    await reader.sees(CLOSES.at(-1)!.toFixed(2));
    await reader.click('button', 'update with latest data');
    await reader.page.waitForFunction((old) => !location.pathname.endsWith(`/${old}`), {}, before);
    await reader.sees('Since the issue before');
    await reader.sees(`last close: ${CLOSES.at(-1)!.toFixed(2)}`);
    await reader.sees('150.00');
    expect((await api(`handovers/${before}`)).body).toMatchObject({ body: { blocks: body.blocks } });
  });
});

describe('a page that is read', () => {
  it('opens from disk without a script or anything from elsewhere, and axe finds nothing wrong', async () => {
    const id = idOf();
    const html = await (await fetch(`${reader.origin}/read/${id}`)).text();
    expect(html).not.toMatch(/<script|https?:\/\/(?!www\.w3\.org\/2000\/svg)/);
    expect(html.length).toBeLessThan(200_000);
    await reader.page.goto(`data:text/html;base64,${Buffer.from(html).toString('base64')}`);
    await reader.page.evaluate(readFileSync(createRequire(import.meta.url).resolve('axe-core'), 'utf8'));
    const violations = await reader.page.evaluate(async () => {
      const { axe } = window as unknown as {
        axe: { run: () => Promise<{ violations: { id: string; nodes: { html: string }[] }[] }> };
      };
      return (await axe.run()).violations.map((one) => `${one.id}: ${one.nodes[0].html}`);
    });
    expect(violations).toEqual([]);
    // the figures behind its chart
    await reader.page.click('details summary');
    expect(await reader.page.$$eval('details tbody tr', (rows) => rows.length)).toBe(40);
    await reader.open(`/handover/${id}`);
  });

  it.each(['A4', 'Letter'] as const)(
    'prints on %s with its title and numbers, without what is only for the screen',
    async (format) => {
      await reader.page.emulateMediaType('print');
      const seen = await reader.page.$$eval(
        'nav, header, aside',
        (parts) => parts.filter((part) => part.getClientRects().length > 0).length,
      );
      expect(seen).toBe(0);
      await reader.page.emulateMediaType();
      const pdf = Buffer.from(await reader.page.pdf({ format })).toString('latin1');
      expect(pdf.match(/\/Type \/Page\b/g)!.length).toBeGreaterThanOrEqual(1);
    },
  );

  it('is found by its words, duplicated, deleted and brought back', async () => {
    await reader.open('/handover');
    const rows = () => reader.page.$$eval('tbody tr', (all) => all.length);
    const before = await rows();
    await (await reader.control('searchbox', 'Find a page')).type('handed our view');
    await reader.page.waitForFunction((all) => document.querySelectorAll('tbody tr').length < all, {}, before);
    const found = await rows();
    await reader.click('button', 'Duplicate Handed on');
    await reader.page.waitForFunction((all) => document.querySelectorAll('tbody tr').length === all + 1, {}, found);
    await reader.click('button', 'Delete Handed on, copy');
    await reader.sees('is deleted');
    await reader.click('button', 'Bring it back');
    await reader.page.waitForFunction((all) => document.querySelectorAll('tbody tr').length === all + 1, {}, found);
  });

  it('of a tape that is gone keeps what it said, struck through, and says so', async () => {
    await reader.page.evaluate(() => fetch('/api/tapes/HANDED', { method: 'DELETE' }));
    await reader.click('link', 'Handed on');
    await at(() => /^\/handover\/\d+$/.test(location.pathname));
    const before = idOf();
    await reader.click('button', 'update with latest data');
    await reader.page.waitForFunction((old) => !location.pathname.endsWith(`/${old}`), {}, before);
    await reader.sees('stays as it was: No tape is called HANDED');
    await reader.find('article s');
    await reader.sees(CLOSES.at(-1)!.toFixed(2));
  });
});

it('more rows than a page can use are refused before they are worked out', async () => {
  const body = { tape: 'KELP', bars: '1 minute', entries: ['smooth = mean(close, 5 bars)'], most: 1000 };
  const answer = await post('columns', body);
  expect([answer.status, answer.body]).toMatchObject([422, { code: 'too-much-work' }]);
  expect((answer.body as { detail: string }).detail).toContain('1,000 at most are of use here');
});

it.each([
  ['a block of no kind', { blocks: [{ id: 'a', kind: 'song' }] }],
  ['a day that is none', { day: '2026-02-30' }],
  [
    'a tape of a hostile name',
    { blocks: [{ id: 'a', kind: 'checked', setting: { tape: '__proto__', bars: '1 day' } }] },
  ],
  ['too many blocks', { blocks: Array.from({ length: 101 }, (_, at) => ({ id: `b${at}`, kind: 'divider' })) }],
])('%s is refused', async (_, body) => {
  const answer = await post('handovers', { title: 'No', body });
  expect([answer.status, answer.body]).toMatchObject([400, { code: 'invalid-body' }]);
});

it('starts from the tab with what is in view', async () => {
  await fetch(`${reader.origin}/api/tapes?name=HANDED_TAB`, { method: 'POST', body: csvOf(CLOSES) });
  await reader.openLedger('HANDED_TAB');
  await reader.click('link', 'Hand over');
  await reader.click('button', 'Hand over HANDED_TAB as it is in view');
  await at(() => /^\/handover\/\d+$/.test(location.pathname));
  await reader.sees('HANDED_TAB stood at');
  const { body } = await kept((page) => page.body.blocks.length === 3);
  expect(body.blocks.map(({ kind }) => kind)).toEqual(['paragraph', 'chart', 'table']);
});
