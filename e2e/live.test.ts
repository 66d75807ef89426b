import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { WebSocket } from 'ws';
import { Feeder } from './feeder';
import { csvOf, Follower, START, trades, type Trade } from './follower';
import { Reader } from './reader';
import { origin } from './ownServer';

/* A tape that is fed while it is looked at: what followers were told is what the tape holds, to the last bit. */

const HOURS = 'zone=Atlantic/Faroe&session=08:30-16:30';

async function enter(name: string, records: readonly Trade[]): Promise<void> {
  const answer = await fetch(`${origin}/api/tapes?name=${name}&kind=ticks&${HOURS}`, {
    method: 'POST',
    body: csvOf(records),
  });
  expect(answer.status).toBe(201);
}
const recordsOf = async (tape: string): Promise<Record<string, number[]>> =>
  (
    (await (
      await fetch(`${origin}/api/tapes/${tape}/records?limit=100000`, { headers: { accept: 'application/json' } })
    ).json()) as { columns: Record<string, number[]> }
  ).columns;
const pricesOf = async (tape: string) => (await recordsOf(tape)).price;

const ENTRIES = [
  ...['m = mean(close, 7 bars)', 'e = ema(close, 9 bars)', 'wild = stdev(logreturn(close), 20 bars)'],
  ...[
    'gap = m - e',
    'h = hurst(logreturn(close), 64 bars)',
    'today = max(high, this day)',
    'far = lag(close, 30 minutes)',
  ],
];
const versionOf = async (tape: string) => (await (await fetch(`${origin}/api/tapes/${tape}`)).json()).version as number;

/** All columns at once. */
async function columnsOf(tape: string, bars: string): Promise<Record<string, (number | string | null)[]>> {
  const answer = await fetch(`${origin}/api/columns`, {
    method: 'POST',
    headers: { accept: 'application/json' },
    body: JSON.stringify({ tape, bars, entries: ENTRIES }),
  });
  return ((await answer.json()) as { columns: Record<string, (number | string | null)[]> }).columns;
}

describe.each(['2 minutes', '50 trades', '400 units', '1 hour', 'range 0.4'])(
  'a stretch that is replayed, as bars of %s',
  (rule) => {
    const tape = `REPLAY_${rule.replaceAll(/\W/g, '_')}`;

    it('comes to a follower as all of it does at once, late records among it, and is resumed', async () => {
      const all = trades(3000, rule.length);
      await enter(tape, all.slice(0, 300));
      const query = new URLSearchParams({ rule, entries: ENTRIES.join('\n'), version: '0' });
      let follower = new Follower(origin, tape, query);
      const feeder = new Feeder(origin, tape, '?sender=replay');
      const rest = all.slice(300);
      for (let from = 0; from < rest.length; from += 150) {
        const part = rest.slice(from, from + 150);
        // each second stretch has some that come after those behind them
        const late = from % 300 === 0 ? part.splice(40, 25) : [];
        feeder.send([...part, ...late].map((record, at) => ({ ...record, seq: from + at })));
        await feeder.until(() => feeder.safe >= from + 149);
        if (from === 1500) {
          follower.leave();
          follower = new Follower(origin, tape, query, follower);
        }
      }
      const { ended } = (await feeder.end()).at(-1)!;
      expect(ended).toEqual({ records: 2700, repeated: 0, refused: 0 });
      await follower.until(await versionOf(tape));
      follower.leave();
      const whole = await columnsOf(tape, rule);
      for (const [name, column] of Object.entries(follower.columns)) expect(column, name).toEqual(whole[name]);
      expect(Object.keys(follower.columns)).toEqual(
        expect.arrayContaining(['close', 'complete', ...ENTRIES.map((text) => text.split(' ')[0])]),
      );
      // the tape is that of a file with the same records
      await enter(`${tape}_file`, all);
      expect(await columnsOf(`${tape}_file`, rule)).toMatchObject({
        close: whole.close,
        volume: whole.volume,
        time: whole.time,
      });
    });
  },
);

describe('a feed', () => {
  it('answers what is safe; a resend changes nothing, also over another connection', async () => {
    const all = trades(200);
    await enter('SENT_TWICE', all.slice(0, 20));
    const first = new Feeder(origin, 'SENT_TWICE', '?sender=me');
    first.send(all.slice(20, 120));
    await first.until(() => first.safe === 119);
    first.breakOff();
    const second = new Feeder(origin, 'SENT_TWICE', '?sender=me');
    await second.until(() => second.answers.length > 0);
    expect(second.answers[0]).toEqual({ feeding: 'SENT_TWICE', sequence: 119 });
    second.send(all.slice(60, 200));
    const { ended } = (await second.end()).at(-1)!;
    expect(ended).toEqual({ records: 80, repeated: 60, refused: 0 });
    expect(await pricesOf('SENT_TWICE')).toEqual(all.map(({ price }) => price));
  });

  it('takes no line that broke off in the middle for a record', async () => {
    await enter('BROKEN_OFF', trades(3));
    const feeder = new Feeder(origin, 'BROKEN_OFF', '', 'text/csv');
    feeder.sendText('time,price,size\n2026-02-02T10:00:00Z,81.25,3\n2026-02-02T10:00:01Z,8125,3');
    await feeder.until(() => feeder.answers.some(({ safe }) => safe === 1));
    feeder.breakOff();
    await feeder.until(() => feeder.failure !== undefined);
    await new Promise((resolve) => setTimeout(resolve, 300));
    expect((await pricesOf('BROKEN_OFF')).slice(3)).toEqual([81.25]);
  });

  it('takes CSV, and the records of two senders at once', async () => {
    const [a, b] = [trades(500, 3), trades(500, 4)];
    await enter('TWO_SENDERS', a.slice(0, 1));
    const one = new Feeder(origin, 'TWO_SENDERS', '?sender=one', 'text/csv');
    const two = new Feeder(origin, 'TWO_SENDERS', '?sender=two');
    one.sendText('seq,price,time,size\n');
    for (let from = 0; from < 500; from += 50) {
      one.sendText(
        a
          .slice(Math.max(1, from), from + 50)
          .map(({ seq, time, price, size }) => `${seq},${price},${time},${size}\n`)
          .join(''),
      );
      two.send(b.slice(from, from + 50));
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
    await Promise.all([one.end(), two.end()]);
    const wanted = [...a, ...b].sort((x, y) => x.time.localeCompare(y.time));
    expect((await pricesOf('TWO_SENDERS')).toSorted()).toEqual(wanted.map(({ price }) => price).toSorted());
    const times = (await recordsOf('TWO_SENDERS')).time.map((text) => Date.parse(String(text)));
    expect(times).toEqual(times.toSorted((x, y) => x - y));
  });

  it('takes the own columns of a tape by their names, and quotes and bars as they are', async () => {
    const fed = async (name: string, query: string, file: string, records: object[]) => {
      const entered = await fetch(`${origin}/api/tapes?name=${name}&zone=UTC&${query}`, { method: 'POST', body: file });
      expect(entered.status).toBe(201);
      const feeder = new Feeder(origin, name);
      feeder.send(records);
      expect((await feeder.end()).at(-1)!.ended).toEqual({ records: records.length, repeated: 0, refused: 0 });
      return recordsOf(name);
    };
    const time = '2026-02-02T09:00:00Z';
    const later = '2026-02-02T09:01:00Z';
    const words = await fed(
      'FED_WORDS',
      'kind=ticks',
      `time,price,size,venue,interest\n${time},1,1,quay,5\n${time},2,1,moor,6\n`,
      [
        { time: later, price: 3, size: 1, venue: 'moor', interest: 7.5 },
        { time: later, price: 4, venue: 'skerry' },
      ],
    );
    expect(words).toMatchObject({
      venue: ['quay', 'moor', 'moor', 'skerry'],
      interest: [5, 6, 7.5, null],
      size: [1, 1, 1, null],
    });
    const quotes = await fed('FED_QUOTES', 'kind=quotes', `time,bid,ask\n${time},1,2\n`, [
      { time: later, bid: 3, ask: 2 },
    ]);
    expect(quotes).toMatchObject({ bid: [1, 3], ask: [2, 2] });
    expect(quotes.flags[1]).not.toBe(0); // crossed
    const minutes = `time,open,high,low,close,volume\n${time},1,2,1,2,5\n2026-02-02T09:01:00Z,2,3,2,3,5\n`;
    const bars = await fed('FED_BARS', 'kind=bars&interval=1+minute', minutes, [
      { time: '2026-02-02T09:02:00Z', open: 3, high: 4, low: 3, close: 4, volume: 6 },
    ]);
    expect(bars.close).toEqual([2, 3, 4]);
    const hour = await (await fetch(`${origin}/api/tapes/FED_BARS/bars?rule=1+hour`)).json();
    expect(hour.columns.volume).toEqual([16]);
  });

  it('tells which lines are no records, and why; the others stand', async () => {
    const all = trades(6);
    await enter('BAD_LINES', all.slice(0, 1));
    const feeder = new Feeder(origin, 'BAD_LINES');
    const { time } = all[1];
    feeder.send([{ time, price: 81 }]);
    feeder.sendText('\nnot JSON\n[1]\n{"time":"2026-02-02","price":1}\n{"price":1}\n');
    feeder.send([
      { time, price: 'x' },
      { time, price: 82, size: -1 },
      { time, price: 1, __proto_: 2 },
      { time, price: 82, size: 3 },
    ]);
    const answers = await feeder.end();
    const refused = answers.flatMap(({ refused: line, says }) => (line === undefined ? [] : [[line, says]]));
    expect(refused).toEqual([
      [3, 'the line is no JSON'],
      [4, 'a line is a record in braces, {"time": …}'],
      [5, expect.stringContaining('`time` is an instant with its zone')],
      [6, '`time` is missing'],
      [7, '`price` is a number'],
      [8, '`size` is not below 0'],
      [9, 'the tape has no column `__proto_`'],
    ]);
    expect(answers.at(-1)!.ended).toEqual({ records: 2, repeated: 0, refused: 7 });
    expect(await pricesOf('BAD_LINES')).toEqual([all[0].price, 81, 82]);
  });

  it('goes on while a file is appended to its tape and its hours are changed', async () => {
    const all = trades(4000, 9);
    await enter('FED_AND_CHANGED', all.slice(0, 10));
    const feeder = new Feeder(origin, 'FED_AND_CHANGED', '?sender=me');
    const feeding = (async () => {
      for (let from = 10; from < 3000; from += 10) {
        feeder.send(all.slice(from, Math.min(3000, from + 10)));
        await new Promise((resolve) => setTimeout(resolve, 4));
      }
    })();
    const appended = await fetch(`${origin}/api/tapes/FED_AND_CHANGED/append`, {
      method: 'POST',
      body: csvOf(all.slice(3000)),
    });
    const change = { method: 'PATCH', body: JSON.stringify({ session: '08:00-16:00' }) };
    const changed = await fetch(`${origin}/api/tapes/FED_AND_CHANGED`, change);
    expect([appended.status, changed.status]).toEqual([200, 200]);
    await feeding;
    expect((await feeder.end()).at(-1)!.ended).toMatchObject({ records: 2990 });
    const found = await recordsOf('FED_AND_CHANGED');
    expect(found.price).toHaveLength(4000);
    const times = found.time.map((text) => Date.parse(String(text)));
    expect(times).toEqual(times.toSorted((x, y) => x - y));
  });

  it('cannot be followed by a rule or a formula that cannot be read', async () => {
    await enter('NOT_READ', trades(5));
    const answers = await Promise.all(
      [
        'rule=5+flowers',
        'rule=1+hour&entries=mean(close',
        'rule=1+hour&entries=mean(colour,3+bars)',
        'entries=close',
      ].map((query) => fetch(`${origin}/api/tapes/NOT_READ/follow?${query}`)),
    );
    expect(answers.map(({ status }) => status)).toEqual([400, 422, 422, 400]);
  });

  it('is refused where there is no such tape, or its times are no instants', async () => {
    const none = new Feeder(origin, 'NO_SUCH');
    await none.end();
    expect(none.status).toBe(404);
    await fetch(`${origin}/api/tapes?name=DATED&kind=series`, {
      method: 'POST',
      body: 'date,value\n2026-02-02,1\n2026-02-03,2\n',
    });
    const dated = new Feeder(origin, 'DATED');
    expect((await dated.end()).at(-1)!.problem!.detail).toContain('are no instants');
  });

  it('may be a WebSocket', async () => {
    const all = trades(50, 5);
    await enter('SOCKET', all.slice(0, 10));
    const socket = new WebSocket(`${origin.replace('http', 'ws')}/api/tapes/SOCKET/feed?sender=web`);
    const heard: { safe?: number; sequence?: number }[] = [];
    await new Promise<void>((resolve, reject) => {
      socket.on('error', reject);
      socket.on('open', () => {
        for (const record of all.slice(10)) socket.send(JSON.stringify(record));
      });
      socket.on('message', (data: Buffer) => {
        heard.push(JSON.parse(data.toString()));
        if (heard.some(({ safe, sequence }) => safe !== undefined && sequence === 49)) resolve();
      });
    });
    socket.close();
    expect(await pricesOf('SOCKET')).toEqual(all.map(({ price }) => price));
    // a page from elsewhere may not
    const foreign = new WebSocket(`${origin.replace('http', 'ws')}/api/tapes/SOCKET/feed`, {
      origin: 'http://elsewhere.example',
    });
    const status = await new Promise((resolve) => {
      foreign.on('unexpected-response', (_, answer) => resolve(answer.statusCode));
      foreign.on('error', () => undefined);
    });
    expect(status).toBe(403);
  });
});

describe('a page that follows', () => {
  let reader: Reader;
  beforeAll(async () => {
    reader = await Reader.arrive();
  });
  afterAll(() => reader.leave());

  const shown = () => reader.page.$eval('header', (one) => (one as HTMLElement).innerText);

  it('has the newest bar in view, with all entries, and leaves the hand alone that looks at the past', async () => {
    const all = trades(2000, 11);
    await enter('WATCHED', all.slice(0, 1500));
    await reader.open('/ledger?tape=WATCHED');
    await reader.click('button', 'follow');
    await reader.sees('following');
    const feeder = new Feeder(origin, 'WATCHED', '?sender=me');
    feeder.send(all.slice(1500, 1750));
    await feeder.until(() => feeder.safe === 1749);
    await reader.sees('following, 1,750 records');
    await reader.sees(String(all[1749].price));
    // to the beginning, where it stays
    await reader.page.focus('[aria-label="Price lane"] [tabindex="0"], .plot[tabindex="0"]');
    await reader.page.keyboard.press('Home');
    const before = await shown();
    feeder.send(all.slice(1750));
    await feeder.end();
    await reader.sees('following, 2,000 records');
    expect((await shown()).replace(/following.*records/, '')).toBe(before.replace(/following.*records/, ''));

    // what it has put together is what it gets when it is opened anew
    await reader.page.keyboard.press('r');
    const rows = '[aria-label="Figures of the bars"] table';
    const figures = async () => {
      const table = await reader.find(rows);
      await reader.page.$eval('[aria-label="Figures of the bars"]', (one) => one.scrollTo(0, one.scrollHeight));
      await reader.page.waitForFunction(
        (wanted, cell) => document.querySelector<HTMLElement>(wanted)!.innerText.includes(cell),
        {},
        rows,
        String(all[1999].price),
      );
      return table.evaluate((one) => (one as HTMLElement).innerText);
    };
    const followed = await figures();
    await reader.open('/ledger?tape=WATCHED');
    await reader.find('::-p-aria(Price lane)');
    await reader.page.keyboard.press('r');
    expect(await figures()).toBe(followed);
  });

  it('tells when a formula becomes true, notes it in the ledger, and has the browser say so', async () => {
    await reader.page.browserContext().overridePermissions(origin, ['notifications']);
    await reader.page.evaluateOnNewDocument(() => {
      const said: string[] = [];
      class Heard {
        static readonly permission = 'granted';
        constructor(title: string) {
          said.push(title);
        }
      }
      Object.assign(window, { Notification: Heard, said });
    });
    await enter('ALARMED', trades(300, 12));
    await reader.open('/ledger?tape=ALARMED');
    await reader.click('button', 'follow');
    await (await reader.control('textbox', 'Alert when')).type('close > 900');
    await reader.page.keyboard.press('Enter');
    await reader.sees('close > 900');
    const feeder = new Feeder(origin, 'ALARMED', '?sender=me');
    const at = (minutes: number) => new Date(START + 3600_000 + minutes * 60_000).toISOString();
    feeder.send([{ seq: 1, time: at(0), price: 80, size: 1 }]);
    await reader.sees('following, 301 records');
    expect(await reader.text()).not.toContain('became true');
    feeder.send([{ seq: 2, time: at(1), price: 999, size: 1 }]);
    await reader.sees('close > 900 became true');
    expect(await reader.page.evaluate(() => (window as unknown as { said: string[] }).said)).toEqual([
      'ALARMED: close > 900',
    ]);
    await feeder.end();
    // it is still there when the ledger is opened again
    await reader.page.waitForFunction(() => /saved \d/.test(document.body.innerText));
    await reader.open('/ledger?tape=ALARMED');
    await reader.click('button', 'follow');
    await reader.sees('close > 900 became true');
  });

  it('keeps the lines of a comparison up to date', async () => {
    const [a, b] = [trades(1500, 13), trades(1500, 14)];
    await enter('BOTH_A', a.slice(0, 1000));
    await enter('BOTH_B', b);
    await reader.open('/compare?member=BOTH_A&member=BOTH_B&bars=5+minutes&window=5');
    const drawn = () => reader.page.$eval('[aria-label="Lines"] .drawn path', (path) => path.getAttribute('d'));
    await reader.find('[aria-label="Lines"] .drawn path');
    await reader.click('button', 'follow');
    const before = await drawn();
    const feeder = new Feeder(origin, 'BOTH_A', '?sender=me');
    feeder.send(a.slice(1000));
    await feeder.end();
    await reader.page.waitForFunction(
      (was) => document.querySelector('[aria-label="Lines"] .drawn path')!.getAttribute('d') !== was,
      {},
      before,
    );
  });
});
