import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Reader } from './reader';

/* A ledger is saved as it goes; what could not be saved is lost neither with the page nor to somebody else's change. */

let reader: Reader;
beforeAll(async () => {
  reader = await Reader.arrive();
});
afterAll(() => reader.leave());

describe('what is looked at and what is kept', () => {
  const api = async <T>(path: string): Promise<T> => (await (await fetch(reader.origin + path)).json()) as T;
  const ledgersOf = async (tape: string) =>
    (await api<{ id: number; body: { tape: string; rule: string } }[]>('/api/ledgers?limit=1000')).filter(
      ({ body }) => body.tape === tape,
    );
  const trades = Array.from({ length: 3000 }, (_, i) => `${1770021000 + i * 60},${84 + (i % 9) / 10},1`).join('\n');
  const enter = (name: string) =>
    fetch(`${reader.origin}/api/tapes?name=${name}`, { method: 'POST', body: `time,price,size\n${trades}\n` });

  /** Leaves the ledger while the server does not answer, and opens it when it does. */
  const comeBackTo = async (id: number) => {
    await reader.page.setOfflineMode(false);
    await reader.page.evaluate(() => (location.href = '/records'));
    await reader.sees('on the shelf');
    await reader.open(`/ledger/${id}`);
  };

  it('a tape that is opened makes no ledger until something is changed', async () => {
    await enter('LOOKED');
    // as the browser does before one clicks
    expect((await fetch(`${reader.origin}/ledger?tape=LOOKED`)).status).toBe(200);
    await reader.openLedger('LOOKED');
    await reader.page.mouse.move(700, 300);
    await reader.page.mouse.wheel({ deltaY: -400 });
    await reader.sees('first look');
    expect(await ledgersOf('LOOKED')).toEqual([]);
    await reader.write('soft = mean(close, 9 bars)');
    await reader.find('::-p-aria(Entry soft)');
    await reader.saved();
    const [{ id }] = await ledgersOf('LOOKED');
    expect(new URL(reader.page.url()).pathname).toBe(`/ledger/${id}`);
    await reader.page.reload();
    await reader.find('::-p-aria(Entry soft)');
    await reader.click('button', 'undo');
    await reader.page.waitForFunction(() => !document.querySelector('[aria-label="Entry soft"]'));
    expect(await ledgersOf('LOOKED')).toHaveLength(1);
    await reader.saved();
  });

  it('a change that cannot be saved is saved when the page is left and opened again', async () => {
    await reader.openLedger('LOOKED');
    const [{ id }] = await ledgersOf('LOOKED');
    await reader.page.setOfflineMode(true);
    await reader.write('hard = max(close, 5 bars)');
    await reader.find('::-p-aria(Entry hard)');
    await reader.sees('not saved: The server does not answer');
    await comeBackTo(id);
    await reader.find('::-p-aria(Entry hard)');
    await reader.saved();
    expect(JSON.stringify(await ledgersOf('LOOKED'))).toContain('hard = max(close, 5 bars)');
  });

  it('a change that meets another one is offered as a ledger of its own', async () => {
    await reader.openLedger('LOOKED');
    const [{ id }] = await ledgersOf('LOOKED');
    await reader.page.setOfflineMode(true);
    await reader.write('mine = min(close, 5 bars)');
    await reader.sees('not saved: The server does not answer');
    const ledger = await api<{ title: string; version: number; body: object }>(`/api/ledgers/${id}`);
    const change = JSON.stringify({ title: 'Changed elsewhere', version: ledger.version, body: ledger.body });
    await fetch(`${reader.origin}/api/ledgers/${id}`, { method: 'PUT', body: change });
    await comeBackTo(id);
    await reader.sees('this ledger was changed elsewhere since');
    // they stay while one works on, and when one comes back
    await reader.write('later = max(close, 7 bars)');
    await reader.find('::-p-aria(Entry later)');
    await reader.saved();
    await reader.page.reload();
    await reader.click('button', 'Open them as another ledger');
    await reader.find('::-p-aria(Entry mine)');
    expect(await ledgersOf('LOOKED')).toHaveLength(2);
    await reader.open(`/ledger/${id}`);
    await reader.find('::-p-aria(Entry later)');
    await reader.seesNot('changed elsewhere since');
    expect(await api(`/api/ledgers/${id}`)).toMatchObject({ title: 'Changed elsewhere' });
  });
});
