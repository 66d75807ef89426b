import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { origin } from './ownServer';

/* Whatever is asked, the answer is what was asked for, or a problem that says what is wrong: never a failure of ours. */

const RUNS = Number(process.env.FUZZ_RUNS ?? 60);

beforeAll(async () => {
  const lines = Array.from(
    { length: 400 },
    (_, row) => `${1_770_021_000 + row * 61},${80 + (row % 9)},${row % 4},${row % 2}`,
  );
  const query = 'name=ANY&zone=Atlantic/Faroe&header=yes&columns=time,price,size,text%3Dberth';
  const answer = await fetch(`${origin}/api/tapes?${query}`, {
    method: 'POST',
    body: `time,price,size,berth\n${lines.join('\n')}\n`,
  });
  expect(answer.status, await answer.text()).toBe(201);
});

/** One tape that was entered, or several. */
interface Entered {
  name?: string;
  tapes?: { name: string }[];
}

/** Words that mean something somewhere, and some that do not anywhere. */
const word = fc.oneof(
  {
    weight: 6,
    arbitrary: fc.constantFrom(
      'ANY',
      '1 minute',
      '5 minutes',
      '1 hour',
      '1 day',
      '3 trades',
      '100 units',
      'range 0.5',
      '250 value',
      'empty: carry',
      'all hours',
      'restart: day',
      'side: buy',
      'price: bid',
      'close',
      'volume',
      'mean',
      'hurst',
      'bands',
      'berth',
      'each: berth',
      '20 bars',
      'this session',
      'all',
      '(',
      ')',
      ',',
      '=',
      '+',
      '/',
      ' on ',
      'skip: 1',
      'only',
      'no',
      'yes',
      '2026-02-02T08:30:00Z',
      '2026-02-02',
      'NaN',
      '1e999',
      '-1',
      '0',
      '999999999999',
      '../..',
      '%00',
      'é',
      '',
      ' ',
    ),
  },
  fc.string({ maxLength: 12 }),
  fc.double().map(String),
);
const text = fc.array(word, { maxLength: 6 }).map((words) => words.join(' '));
const accept = fc.constantFrom(
  'application/json',
  'text/csv',
  'application/x-ndjson',
  'application/vnd.apache.parquet',
  'application/vnd.apache.arrow.stream',
  'image/png',
  '*/*',
);

/** An answer that is no failure; a refusal has its code, its title, and a sentence of what is wrong. */
async function expectSaid(answer: Response, asked: string): Promise<void> {
  const body = await answer.arrayBuffer();
  expect(answer.status, `${asked}: ${new TextDecoder().decode(body.slice(0, 300))}`).toBeLessThan(500);
  if (answer.status < 400) return;
  if (answer.status === 404 && !answer.headers.get('content-type')?.includes('problem')) return; // no such address at all
  expect(answer.headers.get('content-type'), asked).toContain('application/problem+json');
  const problem = JSON.parse(new TextDecoder().decode(body)) as Record<string, unknown>;
  expect(problem, asked).toMatchObject({
    status: answer.status,
    code: expect.stringMatching(/^[a-z-]+$/),
    title: expect.stringMatching(/\S/),
    detail: expect.stringMatching(/\S/),
  });
}

describe('whatever is asked', () => {
  const field = fc.constantFrom('rule', 'from', 'to', 'flagged', 'limit', 'offset', 'bar', 'else');
  const path = fc.oneof(
    { weight: 5, arbitrary: fc.constantFrom('ANY/bars', 'ANY/records', 'ANY/summary', 'ANY/left-out', 'ANY') },
    word.map((name) => `${encodeURIComponent(name)}/bars`),
  );

  it('of a tape', () =>
    fc.assert(
      fc.asyncProperty(path, fc.dictionary(field, text, { maxKeys: 4 }), accept, async (where, query, type) => {
        const asked = `/api/tapes/${where}?${new URLSearchParams(query)}`;
        await expectSaid(await fetch(origin + asked, { headers: { accept: type } }), `${asked} as ${type}`);
      }),
      { numRuns: RUNS },
    ));

  const json = fc.oneof(
    {
      weight: 3,
      arbitrary: fc.record({
        tape: fc.constant('ANY'),
        bars: fc.oneof(fc.constant('5 minutes'), text),
        entries: fc.array(text, { maxLength: 3 }),
      }),
    },
    fc.object({
      key: fc.constantFrom('tape', 'bars', 'entries', 'name', 'title', 'body', 'head', 'zone', 'choices'),
      maxDepth: 2,
    }),
    fc.jsonValue(),
  );
  const body = fc.oneof({ weight: 5, arbitrary: json.map((value) => JSON.stringify(value)) }, fc.string());
  const posted = fc.constantFrom('columns', 'columns', 'readings', 'profiles', 'ledgers', 'entries');

  it('of figures, readings and ledgers', () =>
    fc.assert(
      fc.asyncProperty(posted, body, accept, async (where, what, type) => {
        const answer = await fetch(`${origin}/api/${where}`, { method: 'POST', body: what, headers: { accept: type } });
        await expectSaid(answer, `${where} ${what}`);
      }),
      { numRuns: RUNS },
    ));

  const cell = fc.oneof(
    fc.constantFrom('1770021000', '2026-02-02T08:30:00Z', '84.2', '-1', '"', '', 'NaN', '{', '[1]', '\u0000', 'é'),
    fc.string({ maxLength: 8 }),
  );
  const line = fc.array(cell, { maxLength: 5 }).map((cells) => cells.join(','));
  const file = fc.oneof(
    {
      weight: 4,
      arbitrary: fc.array(line, { maxLength: 12 }).map((lines) => new TextEncoder().encode(lines.join('\n'))),
    },
    fc.uint8Array({ maxLength: 300 }),
  );
  const choice = fc.constantFrom(
    'zone',
    'session',
    'checks',
    'columns',
    'kind',
    'delimiter',
    'header',
    'interval',
    'format',
    'decimal',
  );

  it('to be entered: it is, or nothing of it is there', async () => {
    const shelf = async () =>
      ((await (await fetch(`${origin}/api/tapes?limit=1000`)).json()) as { name: string }[]).map(({ name }) => name);
    const before = await shelf();
    await fc.assert(
      fc.asyncProperty(file, fc.dictionary(choice, word, { maxKeys: 2 }), async (bytes, query) => {
        const asked = `/api/tapes?${new URLSearchParams({ ...query, name: 'TRIED' })}`;
        const answer = await fetch(origin + asked, { method: 'POST', body: bytes as Uint8Array<ArrayBuffer> });
        // one tape, or several of its columns or words
        const entered = answer.status === 201 ? ((await answer.clone().json()) as Entered) : {};
        await expectSaid(answer, `${asked} ${JSON.stringify(new TextDecoder().decode(bytes))}`);
        const names = (entered.tapes ?? [entered]).flatMap(({ name }) => name ?? []);
        expect((await shelf()).filter((name) => !before.includes(name)).sort(), asked).toEqual(names.sort());
        for (const name of names)
          expect((await fetch(`${origin}/api/tapes/${name}`, { method: 'DELETE' })).status).toBe(204);
      }),
      { numRuns: RUNS },
    );
  });
});
