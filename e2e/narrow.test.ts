import { afterAll, beforeAll, expect, it } from 'vitest';
import { Reader } from './reader.js';

/* Every page on a narrow screen: it scrolls downwards only. */

let reader: Reader;
beforeAll(async () => {
  reader = await Reader.arrive(390, 844);
});
afterAll(() => reader.leave());

it.each([
  '/records',
  '/records/KELP',
  '/ledger?tape=KELP',
  '/examine?tape=KELP&bars=1+hour',
  '/project?tape=KELP&bars=1+hour',
  '/compare?member=KELP&member=LAMP&bars=1+hour',
  '/handover',
  '/help',
])('%s does not scroll sideways', async (path) => {
  await reader.open(path);
  await reader.find('h1, h2, .lane, table');
  await expect
    .poll(() => reader.page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth))
    .toBe(0);
});
