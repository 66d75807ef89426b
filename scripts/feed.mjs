import { parseArgs } from 'node:util';
import { setTimeout as sleep } from 'node:timers/promises';
import { build, buildLibraries, install, requireNode } from './prepare.mjs';

/* A stand-in for an exchange: it makes up trades behind the last record of a tape and sends them over the public interface, at
   the pace of the clock or faster, with late records, a pause and a broken connection. */

const USAGE = `npm run feed -- TAPE [options]

  --speed N      so many times the pace of the clock (60)
  --pace N       trades in a minute of the exchange (20)
  --minutes N    of the exchange, then it ends (a day's session)
  --late N       share of the records that come late (0.01)
  --steady       without the pause and the broken connection
  --seed N       other trades (1)
  --url ADDRESS  of the server (http://127.0.0.1:4180)
  --token TOKEN  where the server asks for one`;

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    speed: { type: 'string', default: '60' },
    pace: { type: 'string', default: '20' },
    minutes: { type: 'string' },
    late: { type: 'string', default: '0.01' },
    steady: { type: 'boolean', default: false },
    seed: { type: 'string', default: '1' },
    url: { type: 'string', default: process.env.JAUNTY_URL ?? 'http://127.0.0.1:4180' },
    token: { type: 'string', default: process.env.JAUNTY_TOKEN },
    help: { type: 'boolean', short: 'h', default: false },
  },
});
const [name] = positionals;
if (values.help || !name) {
  console.log(USAGE);
  process.exit(values.help ? 0 : 2);
}

requireNode();
install();
build();
buildLibraries();
const { makeCalendar, rfc3339, instantOf } = await import('../core/dist/index.js');
const { Random } = await import('../demo/dist/index.js');
const { WebSocket } = await import('ws');

const headers = values.token ? { authorization: `Bearer ${values.token}` } : {};
const path = `/api/tapes/${encodeURIComponent(name)}`;

async function ask(rest) {
  const answer = await fetch(`${values.url}${path}${rest}`, { headers });
  const body = await answer.json();
  if (!answer.ok) throw new Error(body.detail);
  return body;
}

const MINUTE = 60e6;
const RESENT = 50;
const sender = 'stand-in';

/** Sends lines and counts what is safe; a connection that breaks is made anew, and what was not safe is sent again. */
class Sender {
  sent = [];
  count = 0;
  safe = -1;
  late = 0;
  repeated = 0;

  async connect() {
    const address = `${values.url.replace(/^http/, 'ws')}${path}/feed?sender=${sender}`;
    this.socket = new WebSocket(address, { headers });
    return new Promise((resolve, reject) => {
      this.socket.on('error', reject);
      this.socket.on('unexpected-response', (_, answer) =>
        reject(new Error(`the server answers ${answer.statusCode}`)),
      );
      this.socket.on('message', (text) => {
        const line = JSON.parse(text);
        if ('feeding' in line) return resolve(line.sequence);
        if ('safe' in line) {
          this.safe = Math.max(this.safe, line.sequence);
          this.forget();
          this.repeated += line.repeated;
          this.late += line.late?.records ?? 0;
        }
        if ('refused' in line) console.error(`line ${line.refused}: ${line.says}`);
        if ('problem' in line) reject(new Error(line.problem.detail));
      });
    });
  }

  /** What has been safe for long is not sent again. */
  forget() {
    const first = this.sent.findIndex(({ seq }) => seq > this.safe - 2 * RESENT);
    if (first > 1000) this.sent.splice(0, first);
  }

  send(record) {
    this.count++;
    this.sent.push(record);
    this.socket.send(JSON.stringify(record));
  }

  async reconnect() {
    this.socket.terminate();
    const known = await this.connect();
    // a few that were safe are sent too: their numbers make that harmless
    for (const record of this.sent.filter(({ seq }) => seq > known - RESENT)) this.socket.send(JSON.stringify(record));
  }

  async settle() {
    while (this.sent.length > 0 && this.safe < this.sent.at(-1).seq) await sleep(20);
    this.socket.close();
  }
}

try {
  const tape = await ask('');
  if (tape.kind !== 'ticks') throw new Error(`${name} holds ${tape.kind}; the stand-in makes up trades.`);
  const calendar = makeCalendar({
    ...tape,
    session: tape.session ?? undefined,
    weekdays: tape.weekdays ?? undefined,
    closed: tape.closed ?? [],
  });
  const random = new Random(Number(values.seed));
  let day = calendar.dayAt(instantOf(tape.to));
  // the session goes on where the tape ends, or the next one begins
  if (!day.open || instantOf(tape.to) >= calendar.sessionEnd(day) - MINUTE)
    do day = calendar.dayOn(day.date + 1);
    while (!day.open);
  const begin = Math.max(day.opensAt, instantOf(tape.to) + 1e6);
  const end = values.minutes ? begin + Number(values.minutes) * MINUTE : calendar.sessionEnd(day);
  const [speed, pace, lateShare] = [values.speed, values.pace, values.late].map(Number);
  const feed = new Sender();
  let seq = (await feed.connect()) + 1;
  const started = Date.now();
  const held = [];
  let price = tape.spark.at(-1) ?? 100;
  let [hasPaused, hasBroken] = [values.steady, values.steady];
  const record = (at) => {
    price = Math.max(0.01, price * (1 + 0.0001 * random.normal()));
    const { priceDecimals } = tape;
    return {
      seq: seq++,
      time: rfc3339(at),
      price: Number(price.toFixed(Math.max(2, priceDecimals))),
      ...(tape.columns.includes('size') && { size: 1 + Math.floor(random.uniform() * 20) }),
    };
  };
  console.log(`${name}: ${rfc3339(begin)} to ${rfc3339(end)}, ${speed} times as fast as the clock`);
  for (let at = begin; at < end; at += Math.max(1, Math.round((-Math.log(1 - random.uniform()) * MINUTE) / pace))) {
    const due = started + (at - begin) / 1000 / speed;
    if (due > Date.now()) await sleep(due - Date.now());
    // a record that is held back is one of an earlier moment, with a later number
    if (random.uniform() < lateShare) held.push(at);
    else feed.send(record(at));
    if (held.length > 0 && random.uniform() < 0.2) feed.send(record(held.shift()));
    const share = (at - begin) / (end - begin);
    if (!hasPaused && share > 0.4) {
      hasPaused = true;
      console.log('a pause of three seconds');
      await sleep(3000);
    }
    if (!hasBroken && share > 0.6) {
      hasBroken = true;
      console.log('the connection breaks, and is made anew');
      await feed.reconnect();
    }
  }
  for (const at of held) feed.send(record(at));
  await feed.settle();
  console.log(`${feed.count} records are safe; ${feed.late} came late, ${feed.repeated} were sent twice`);
} catch (error) {
  console.error(error.message);
  process.exitCode = 1;
}
