import type { HTTPRequest } from 'puppeteer-core';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { Reader } from './reader';

/* What stands on a page stays where it is while the rest comes: whoever presses something meets what they meant. */

let reader: Reader;
/** Requests that are not let through yet, and which they are. */
let late: RegExp | undefined;
let held: HTTPRequest[] = [];
beforeAll(async () => {
  reader = await Reader.arrive();
  await reader.page.setRequestInterception(true);
  reader.page.on('request', (request) => {
    if (late?.test(request.url())) held.push(request);
    else void request.continue();
  });
});
afterAll(() => reader.leave());

/** How far down each of some elements begins. */
const placesOf = (selectors: string[]) =>
  Promise.all(selectors.map(async (selector) => Math.round((await (await reader.find(selector)).boundingBox())!.y)));

it.each([
  ['/ledger?tape=KELP', /\/bars/, ['[aria-label="The ledger"]', 'h1', 'header + *'], '[aria-label="Price lane"]'],
  [
    '/records/KELP',
    /\/summary/,
    ['h1', '[aria-label="Price over the span"]', '[aria-label="Records"]'],
    '[aria-label="Figures"] table',
  ],
])('%s', async (path, comesLate, stand, comes) => {
  late = comesLate;
  await reader.open(path);
  await reader.page.evaluate(() => document.fonts.ready.then(() => undefined));
  await expect.poll(() => held.length).toBeGreaterThan(0);
  const before = await placesOf(stand);
  late = undefined;
  await Promise.all(held.map((request) => request.continue()));
  held = [];
  await reader.find(comes);
  const after = await placesOf(stand);
  for (const [at, place] of before.entries()) expect(Math.abs(after[at] - place), stand[at]).toBeLessThanOrEqual(3);
});

it('letters are asked for with the page', async () => {
  const { headers } = await fetch(`${reader.origin}/records`);
  expect(headers.get('link')).toMatch(/latin-opsz-normal[^,]*as="font"/);
});
