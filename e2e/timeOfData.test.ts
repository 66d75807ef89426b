import { afterAll, beforeAll, expect, it } from 'vitest';
import { Reader } from './reader';

/* What the times of a file say by themselves: on which weekdays there is trading, and when a window in time is full. */

let reader: Reader;
beforeAll(async () => {
  reader = await Reader.arrive();
});
afterAll(() => reader.leave());

const DAY_MS = 86_400_000;
const MONDAY = Date.UTC(2016, 0, 4);
const isWorking = (day: number) => day % 7 < 5;

interface Imported {
  rows: number;
  weekdays: string[] | null;
  report: { closedWeekdays?: string[]; findings: { id: string; count: number }[] };
}

/** Imports a file of a value a day, with no settings. */
async function importDays(name: string, days: readonly number[], query = ''): Promise<Imported> {
  const lines = days.map((day) => `${new Date(MONDAY + day * DAY_MS).toISOString().slice(0, 10)},${100 + (day % 13)}`);
  const sent = await fetch(`${reader.origin}/api/tapes?name=${name}${query}`, {
    method: 'POST',
    body: `date,margin\n${lines.join('\n')}\n`,
  });
  expect(sent.status).toBe(201);
  return (await sent.json()) as Imported;
}
const upTo = (days: number, isIn: (day: number) => boolean) =>
  Array.from({ length: days }, (_, day) => day).filter(isIn);
async function post<Answer>(path: string, body: object): Promise<Answer> {
  const answer = await fetch(reader.origin + path, { method: 'POST', body: JSON.stringify(body) });
  expect(answer.status).toBe(200);
  return (await answer.json()) as Answer;
}

it('weekdays without records are closed, forecasts pass over them, and the page shows and changes them', async () => {
  const tape = await importDays('E2E_WEEK', upTo(70, isWorking));
  expect([tape.weekdays, tape.report.closedWeekdays]).toEqual([
    ['Mon', 'Tue', 'Wed', 'Thu', 'Fri'],
    ['Sat', 'Sun'],
  ]);
  const forecast = await post<{ ahead: string[] }>('/api/projections', {
    ...{ tape: 'E2E_WEEK', bars: '1 day', models: ['last'], horizon: 6 },
  });
  expect(forecast.ahead.map((at) => new Date(at).getUTCDay())).toEqual([1, 2, 3, 4, 5, 1]);
  await reader.open('/records/E2E_WEEK');
  await reader.sees('No trading on Saturday and Sunday: the file has no records on these days');
  const weekdays = await reader.control('textbox', 'Weekdays');
  expect(await weekdays.evaluate((field) => (field as HTMLInputElement).value)).toBe('Mon, Tue, Wed, Thu, Fri');
});

it('a record on a closed weekday now and then is found by the checks', async () => {
  const days = upTo(7 * 450, (day) => isWorking(day) || day === 5);
  const tape = await importDays('E2E_STRAY', days);
  expect([tape.rows, tape.weekdays?.length]).toEqual([days.length, 5]);
  expect(tape.report.findings).toContainEqual(expect.objectContaining({ id: 'closed-date', count: 1 }));
  const without = await importDays('E2E_CLEAN', days, '&checks=closed-date:leave-out');
  expect([without.rows, without.weekdays?.length]).toEqual([days.length - 1, 5]);
  // what a query says, and what a tape has, goes before the records
  const all = await importDays('E2E_SEVEN', upTo(70, isWorking), '&weekdays=Mon,Tue,Wed,Thu,Fri,Sat,Sun');
  expect(all.weekdays?.length).toBe(7);
  const more = await fetch(`${reader.origin}/api/tapes/E2E_WEEK/append`, {
    method: 'POST',
    body: 'date,margin\n2016-03-14,5\n2016-03-19,5\n',
  });
  expect([more.status, ((await more.json()) as Imported).rows]).toEqual([200, 52]);
});

it('a window in time is missing until it is full, and starts early in one press', async () => {
  const lines = Array.from(
    { length: 40 },
    (_, row) => `${2000 + Math.floor(row / 12)}-${String(1 + (row % 12)).padStart(2, '0')},${row}`,
  );
  await fetch(`${reader.origin}/api/tapes?name=E2E_QUARTER`, {
    method: 'POST',
    body: `month,landings_t\n${lines.join('\n')}\n`,
  });
  const { columns } = await post<{ columns: Record<string, (number | null)[]> }>('/api/columns', {
    ...{ tape: 'E2E_QUARTER', bars: '1 month' },
    entries: ['a = mean(landings_t, 3 months)', 'b = mean(landings_t, 3 months, from: 1)'],
  });
  expect(columns.a.slice(0, 4)).toEqual([null, null, 1, 2]);
  expect(columns.b.slice(0, 4)).toEqual([0, 0.5, 1, 2]);
  await reader.openLedger('E2E_QUARTER');
  await reader.write('quarter = mean(landings_t, 3 months)');
  await reader.sees('quarter: 2 bars short');
  await reader.click('button', 'start early');
  await reader.seesNot('bars short');
  await reader.sees('from: 1');
});
