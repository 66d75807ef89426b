import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fileOf, Reader } from './reader';

/* The shelf: tapes are found, chosen and changed together, and go by calendars that are kept under a name. */

let reader: Reader;

beforeAll(async () => {
  reader = await Reader.arrive();
  for (const name of ['NEAP', 'NEAP_days', 'EBB'])
    await api(`/api/tapes?name=${name}&zone=Atlantic/Faroe`, 'POST', trades);
});
afterAll(() => reader.leave());

const trades =
  'time,price\n' +
  ['2025-02-03T09:00:00Z', '2025-02-03T18:00:00Z', '2025-12-24T09:00:00Z', '2025-12-24T14:00:00Z']
    .map((time, row) => `${time},${84 + row}`)
    .join('\n');

const api = async (path: string, method = 'GET', body?: string) => {
  const answer = await fetch(reader.origin + path, { method, body });
  return { status: answer.status, body: answer.status === 204 ? undefined : await answer.json() };
};
const tapeOf = async (name: string) => (await api(`/api/tapes/${name}`)).body;
const namesShown = () =>
  reader.page.$$eval('tbody th a', (links) => links.map((link) => (link as HTMLElement).innerText));
const find = async (text: string) => {
  const field = await reader.control('searchbox', 'Find a tape');
  await field.click({ count: 3 });
  if (text === '') await reader.page.keyboard.press('Backspace');
  else await reader.page.keyboard.type(text);
};

describe('a calendar', () => {
  const hours = { zone: 'Atlantic/Faroe', session: '08:30-16:30', weekdays: ['Mon', 'Tue', 'Wed', 'Thu', 'Fri'] };
  const path = '/api/calendars/Quay';

  it('is kept, taken by tapes, and followed where it is changed, once what would change was told', async () => {
    const kept = await api(path, 'PUT', JSON.stringify({ ...hours, closed: ['2025-12-25'] }));
    expect(kept).toMatchObject({ status: 200, body: { changed: [], failed: [] } });
    const taken = await api('/api/tapes/NEAP', 'PATCH', JSON.stringify({ calendar: 'quay' }));
    expect(taken.body).toMatchObject({ calendar: 'Quay', session: '08:30-16:30', flagged: 1 });

    await reader.open('/calendars');
    await reader.sees('08:30 to 16:30 Faroe time, Mon to Fri, closed on 1 day');
    await reader.click('button', 'Change Quay');
    const closed = await reader.find('textarea');
    await closed.click();
    await reader.page.keyboard.down('Control');
    await reader.page.keyboard.press('End');
    await reader.page.keyboard.up('Control');
    await reader.page.keyboard.type('\n2025-12-24 12:00');
    await reader.click('button', 'See what would change');
    await reader.sees('1 → 2');
    expect((await tapeOf('NEAP')).flagged).toBe(1);
    await reader.click('button', 'Change it for 1 tape');
    await reader.sees('Quay is kept. 1 tape follows.');
    expect(await tapeOf('NEAP')).toMatchObject({ flagged: 2, closed: ['2025-12-24 12:00', '2025-12-25'] });
  });

  it('takes closed days from an iCalendar file, and gives them as one', async () => {
    const file = await (await fetch(`${reader.origin}${path}/closed.ics`)).text();
    expect(file).toContain('DTSTART;VALUE=DATE:20251225');
    await reader.open('/calendars');
    await reader.click('button', 'make one');
    const name = await reader.control('textbox', 'Name');
    await name.type('Mole');
    const picker = (await reader.page.$('input[type="file"]'))!;
    await (picker as unknown as { uploadFile(path: string): Promise<void> }).uploadFile(fileOf('closed.ics', file));
    await reader.sees('2 closed days of closed.ics added.');
    await reader.click('button', 'Save');
    await reader.sees('Mole is kept.');
    expect((await api('/api/calendars/Mole')).body.closed).toHaveLength(2);
    const bad = await api(path, 'PUT', JSON.stringify({ ...hours, icalendar: 'time,price' }));
    expect([bad.status, bad.body.detail]).toEqual([422, expect.stringContaining('BEGIN:VCALENDAR')]);
    const none = await api('/api/tapes/NEAP', 'PATCH', JSON.stringify({ calendar: 'Nowhere' }));
    expect([none.status, none.body.code]).toEqual([404, 'unknown-calendar']);
  });

  it('gives up a tape whose hours are changed by hand, and is forgotten', async () => {
    expect((await api('/api/tapes/NEAP', 'PATCH', JSON.stringify({ session: null }))).body.calendar).toBeNull();
    expect((await api('/api/calendars/Mole', 'DELETE')).status).toBe(204);
    expect((await api('/api/calendars/Mole')).status).toBe(404);
  });

  it('is taken for a file before it is entered', async () => {
    await reader.pick(fileOf('spring.csv', trades));
    await (await reader.control('combobox', 'Calendar')).select('Quay');
    await reader.sees('closing early on 1');
    await reader.click('button', 'Import');
    await reader.sees('SPRING was imported');
    expect(await tapeOf('SPRING')).toMatchObject({ calendar: 'Quay', flagged: 2 });
  });
});

describe('the shelf', () => {
  it('shows tapes of one instrument together, and finds them by words', async () => {
    await reader.open('/records');
    await find('neap');
    await reader.sees('2 of');
    expect(await namesShown()).toEqual(['NEAP', 'NEAP_days']);
  });

  it('changes and deletes those that were chosen, and brings them back', async () => {
    await reader.click('checkbox', 'Choose all tapes shown');
    await reader.sees('2 chosen');
    await (await reader.control('combobox', 'Tag those chosen')).type('tide');
    await reader.click('button', 'add');
    await reader.sees('tide');
    await reader.page.waitForFunction(() => !document.querySelector('[aria-label="Tapes chosen"]'));
    expect((await tapeOf('NEAP_days')).tags).toEqual(['tide']);
    await (await reader.control('combobox', 'Tag')).select('tide');
    await find('');
    await reader.sees('2 of');
    await reader.click('checkbox', 'Choose all tapes shown');
    await (await reader.find('[aria-label="Tapes chosen"] .word')).click();
    await reader.sees('2 tapes are deleted.');
    expect((await api('/api/tapes/NEAP')).status).toBe(404);
    await reader.click('button', 'Bring them back');
    await reader.page.waitForFunction(() => !document.body.innerText.includes('are deleted'));
    expect((await api('/api/tapes/NEAP')).status).toBe(200);
  });

  it('shows no more rows than are in sight, however many tapes there are', async () => {
    const columns = Array.from({ length: 200 }, (_, at) => `C${at}`);
    const wide = `date,${columns.join(',')}\n${[1, 2].map((day) => `2026-02-0${day + 1},${columns.map((_, at) => at + day).join(',')}`).join('\n')}\n`;
    expect((await api('/api/tapes?name=WIDE', 'POST', wide)).status).toBe(201);
    await reader.open('/records');
    await find('wide_c');
    await reader.sees('200 of');
    expect((await namesShown()).length).toBeLessThan(60);
    await reader.page.evaluate(() => scrollTo(0, document.body.scrollHeight));
    await reader.sees('WIDE_C199');
    expect(await namesShown()).not.toContain('WIDE_C0');
  });
});

describe('a file that is dropped on another page', () => {
  it('is carried to Records, and looked into there', async () => {
    await reader.openLedger('NEAP');
    await reader.drop('brought along.csv', trades);
    await reader.find('::-p-aria(Intake) table');
    expect(new URL(reader.page.url()).pathname).toBe('/records');
    await reader.sees('brought along.csv');
  });
});
