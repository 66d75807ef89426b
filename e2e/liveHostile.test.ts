import { connect } from 'node:net';
import { describe, expect, it } from 'vitest';
import { Feeder } from './feeder';
import { origin } from './ownServer';

/* Feeds and followers that mean no good, or do not know better: each is told, and nobody else notices. */

const { port } = new URL(origin);
const isUp = async () => (await fetch(`${origin}/api/tapes`)).status === 200;
const at = (seconds: number) => new Date(Date.UTC(2026, 1, 2, 9) + 1000 * seconds).toISOString();

async function enter(name: string, csv: string, query = ''): Promise<void> {
  const answer = await fetch(`${origin}/api/tapes?name=${name}&zone=UTC${query}`, { method: 'POST', body: csv });
  expect(answer.status).toBe(201);
}
const columnsOf = async (tape: string): Promise<Record<string, (number | string | null)[]>> =>
  (
    (await (
      await fetch(`${origin}/api/tapes/${tape}/records?limit=1000`, { headers: { accept: 'application/json' } })
    ).json()) as { columns: Record<string, (number | string | null)[]> }
  ).columns;

/** What comes back for some bytes; nothing where nothing does. */
const answerTo = (bytes: string, milliseconds = 2000) =>
  new Promise<string>((resolve) => {
    let heard = '';
    const socket = connect(Number(port), '127.0.0.1');
    socket.on('data', (part) => (heard += part.toString()));
    socket.on('error', () => resolve(heard));
    socket.on('close', () => resolve(heard));
    socket.write(Buffer.from(bytes, 'latin1'));
    setTimeout(() => socket.destroy(), milliseconds);
  });
const upgrade = (path: string, key = 'dGhlIHNhbXBsZSBub25jZQ==') =>
  `GET ${path} HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nConnection: Upgrade\r\nUpgrade: websocket\r\nSec-WebSocket-Version: 13\r\nSec-WebSocket-Key: ${key}\r\n\r\n`;

describe('a request for a WebSocket', () => {
  it.each(['//', 'http://[bad/', '/elsewhere', '/api/tapes/K\xe9/feed', '/api/tapes/%zz/feed', '/api/tapes/NOPE/feed'])(
    'at %s is refused, and the server goes on',
    async (path) => {
      expect(await answerTo(upgrade(path))).toMatch(/^HTTP\/1\.1 40[034] /);
      expect(await isUp()).toBe(true);
    },
  );

  it('that breaks off in its beginning leaves no feed behind', async () => {
    await enter('HALF_OPEN', `time,price\n${at(0)},1\n`);
    // more of them than there may be feeds
    for (let one = 0; one < 70; one++)
      await answerTo(upgrade('/api/tapes/HALF_OPEN/feed', one % 2 === 0 ? 'bad key' : undefined), 10);
    // as soon as the server has seen the last of them go
    const fed = async () => {
      const feeder = new Feeder(origin, 'HALF_OPEN');
      feeder.send([{ time: at(1), price: 2 }]);
      return (await feeder.end()).at(-1)!.ended;
    };
    await expect.poll(fed, { timeout: 5000 }).toMatchObject({ records: 1 });
  }, 120_000);
});

describe('lines', () => {
  it('that are too long, or hold what is no number, are no records', async () => {
    await enter('ODD_LINES', `time,price,size\n${at(0)},1,1\n`);
    const long = new Feeder(origin, 'ODD_LINES');
    long.sendText(`{"time":"${at(1)}","price":1${'0'.repeat(200_000)}}\n`);
    long.send([
      { time: at(1), price: 2, size: 1 },
      { time: at(2), price: 0, size: 1 },
      { time: at(3), price: -1, size: 1 },
    ]);
    long.sendText(`{"time":"${at(4)}","price":1e999,"size":1}\n`);
    const told = (await long.end()).flatMap(({ refused, says }) => (refused === undefined ? [] : [[refused, says]]));
    expect(told).toEqual([
      [1, 'a line has at most 65,536 letters'],
      [3, '`price` is not above 0'],
      [4, '`price` is not above 0'],
      [5, '`price` is a number'],
    ]);
    const csv = new Feeder(origin, 'ODD_LINES', '', 'text/csv');
    csv.sendText(`time,price,size\n${at(5)}, ,1\n${at(5)},0x10,1\n${at(5)},Infinity,1\n${at(5)},"3",1\n`);
    expect((await csv.end()).at(-1)!.ended).toEqual({ records: 1, repeated: 0, refused: 3 });
    expect((await columnsOf('ODD_LINES')).price).toEqual([1, 2, 3]);
  });

  it('may have columns called as what every object has, but none called as the numbers of records', async () => {
    await enter('PROTO', `time,price,constructor,toString\n${at(0)},1,quay,5\n${at(0)},1,moor,6\n`);
    const feeder = new Feeder(origin, 'PROTO');
    feeder.send([
      { time: at(1), price: 2 },
      { time: at(2), price: 3, constructor: 'moor', toString: 7 },
    ]);
    feeder.sendText(`{"time":"${at(3)}","price":4,"__proto__":{"price":5}}\n`);
    expect((await feeder.end()).at(-1)!.ended).toEqual({ records: 2, repeated: 0, refused: 1 });
    expect(await columnsOf('PROTO')).toMatchObject({
      constructor: ['quay', 'moor', null, 'moor'],
      toString: [5, 6, null, 7],
    });
    await enter('SEQ_OF_ITS_OWN', `time,price,seq\n${at(0)},1,4.5\n${at(0)},1,5.5\n`);
    const refused = new Feeder(origin, 'SEQ_OF_ITS_OWN');
    expect((await refused.end()).at(-1)!.problem!.detail).toContain('has a column called `seq`');
  });

  it('with numbers and without come together, and a resend still changes nothing', async () => {
    await enter('MIXED', `time,price\n${at(0)},1\n`);
    for (const repeated of [0, 2]) {
      const feeder = new Feeder(origin, 'MIXED', '?sender=me');
      feeder.send([
        { seq: 1, time: at(1), price: 2 },
        { seq: 2, time: at(2), price: 3 },
        { time: at(3), price: 4 },
      ]);
      expect((await feeder.end()).at(-1)!.ended).toEqual({ records: 3 - repeated, repeated, refused: 0 });
    }
    expect((await columnsOf('MIXED')).price).toEqual([1, 2, 3, 4, 4]);
  });

  it('whose number jumps to the end of all numbers lock no sender, and one that did go far can be reset', async () => {
    await enter('LOCKED', `time,price\n${at(0)},1\n`);
    const first = new Feeder(origin, 'LOCKED', '?sender=me');
    first.send([{ seq: 1, time: at(1), price: 2 }]);
    first.send([{ seq: Number.MAX_SAFE_INTEGER, time: at(2), price: 3 }]);
    first.send([{ seq: 8e15, time: at(2), price: 3 }]);
    first.send([{ seq: 2, time: at(3), price: 4 }]);
    expect((await first.end()).at(-1)!.ended).toEqual({ records: 2, repeated: 0, refused: 2 });
    const far = new Feeder(origin, 'LOCKED', '?sender=far');
    far.send([{ seq: 8e15, time: at(4), price: 5 }]);
    await far.end();
    const reset = await fetch(`${origin}/api/tapes/LOCKED/feed?sender=far`, { method: 'DELETE' });
    expect(reset.status).toBe(204);
    const again = new Feeder(origin, 'LOCKED', '?sender=far');
    again.send([{ seq: 0, time: at(5), price: 6 }]);
    expect((await again.end()).at(-1)!.ended).toEqual({ records: 1, repeated: 0, refused: 0 });
    expect((await columnsOf('LOCKED')).price).toEqual([1, 2, 4, 5, 6]);
  });
});

describe('a follower', () => {
  const eventsOf = async (address: string, milliseconds: number) => {
    const left = AbortSignal.timeout(milliseconds);
    let heard = '';
    try {
      const answer = await fetch(origin + address, { signal: left });
      for await (const part of answer.body!.pipeThrough(new TextDecoderStream())) heard += part;
    } catch (error) {
      if (!left.aborted) throw error;
    }
    return heard;
  };

  it('of more bars than there may be is told so, and feeds go on', async () => {
    await enter('FAR_APART', `time,price\n2001-01-01T00:00:00Z,1\n2026-02-02T09:00:00Z,2\n`);
    const heard = await eventsOf('/api/tapes/FAR_APART/follow?rule=1+second,+empty:+carry', 8000);
    expect(heard).toContain('"code":"too-many-bars"');
    const feeder = new Feeder(origin, 'FAR_APART');
    feeder.send([{ time: at(60), price: 3 }]);
    expect((await feeder.end()).at(-1)!.ended).toMatchObject({ records: 1 });
  });

  it('that claims a version that there is not is told all there is', async () => {
    await enter('YOUNG', `time,price\n${at(0)},1\n${at(100)},2\n`);
    const heard = await eventsOf('/api/tapes/YOUNG/follow?rule=1+minute&version=999999', 2000);
    expect(heard).toContain('"first":0');
    expect(await eventsOf('/api/tapes/YOUNG/follow?rule=1+minute&version=1', 1500)).not.toContain('event: rows');
  });

  it('of a tape that is deleted hears of it', async () => {
    await enter('GOING', `time,price\n${at(0)},1\n`);
    const heard = eventsOf('/api/tapes/GOING/follow?rule=1+minute', 3000);
    await new Promise((resolve) => setTimeout(resolve, 800));
    await fetch(`${origin}/api/tapes/GOING`, { method: 'DELETE' });
    expect(await heard).toContain('GOING was deleted');
  });
});
