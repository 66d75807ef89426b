import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { Feeder } from '../feeder';
import { serve, type Served } from '../servedApp';
import { KILLS } from './kills';

/* A server that is killed while it is fed: what it has told to be safe is there when it comes back, each record once. */

const SETTINGS = { JAUNTY_DEMO: 'off' };

let folder: string;
let server: Served;
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'jaunty-kills-'));
  server = await serve(folder, SETTINGS);
});
afterAll(() => {
  server.process.kill('SIGKILL');
  rmSync(folder, { recursive: true, force: true });
});

const time = (seq: number) => new Date(Date.UTC(2026, 1, 2, 9) + seq * 10).toISOString();
/** Each record can be told by its price. */
const record = (seq: number) => ({ seq, time: time(seq), price: 1 + seq / 100, size: 1 });
/** Some come later than those behind them. */
const inSendingOrder = (seqs: number[]) => [
  ...seqs.filter((seq) => seq % 10 !== 3),
  ...seqs.filter((seq) => seq % 10 === 3),
];

it(`${KILLS} kills lose no record that was told to be safe, and double none`, async () => {
  const first = `time,price,size\n${time(-1)},1,1\n`;
  await fetch(`${server.origin}/api/tapes?name=KILLED&kind=ticks&zone=UTC`, { method: 'POST', body: first });
  // a number of its own for each line in the order of sending; the price tells which record it is
  let sent = 0;
  let told = -1;
  const lines: string[] = [];
  const more = () => {
    const from = lines.length;
    for (const at of inSendingOrder(Array.from({ length: 40 }, (_, i) => from + i)))
      lines.push(JSON.stringify({ ...record(at), seq: lines.length }));
  };
  for (let kill = 0; kill < KILLS; kill++) {
    const feeder = new Feeder(server.origin, 'KILLED', '?sender=one');
    await feeder.until(() => feeder.answers.length > 0);
    const known = feeder.answers[0].sequence!;
    expect(known).toBeGreaterThanOrEqual(told);
    sent = known + 1;
    // some are killed before they have told anything, the others a while after one of their answers
    const answers = (kill % 5) + 1;
    let until = Date.now() + (kill % 5 === 0 ? 10 + 2 * kill : Infinity);
    while (Date.now() < until) {
      if (feeder.answers.length > answers) until = Math.min(until, Date.now() + ((kill * 37) % 60));
      more();
      feeder.sendText(`${lines.slice(sent).join('\n')}\n`);
      sent = lines.length;
      await new Promise((resolve) => setTimeout(resolve, 3));
    }
    server.process.kill('SIGKILL');
    await feeder.until(() => feeder.failure !== undefined);
    told = Math.max(told, feeder.safe);
    server = await serve(folder, SETTINGS);
  }
  // what was not safe is sent again, and then all of it is there once
  const feeder = new Feeder(server.origin, 'KILLED', '?sender=one');
  await feeder.until(() => feeder.answers.length > 0);
  feeder.sendText(`${lines.slice(feeder.answers[0].sequence! + 1).join('\n')}\n`);
  await feeder.end();
  const prices: number[] = [];
  const times: string[] = [];
  for (let from = 0, isMore = true; isMore; from = prices.length) {
    const answer = await fetch(`${server.origin}/api/tapes/KILLED/records?limit=100000&offset=${from}`);
    const { columns, more: further } = (await answer.json()) as {
      columns: { price: number[]; time: string[] };
      more: boolean;
    };
    prices.push(...columns.price);
    times.push(...columns.time);
    isMore = further;
  }
  expect(told).toBeGreaterThan(KILLS);
  expect(prices.slice(1)).toEqual(Array.from(lines, (_, seq) => record(seq).price));
  expect(times.slice(1).map((text) => Date.parse(text))).toEqual(Array.from(lines, (_, seq) => Date.parse(time(seq))));
}, 400_000);
