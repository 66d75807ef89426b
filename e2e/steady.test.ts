import { afterAll, beforeAll, expect, it } from 'vitest';
import { Reader } from './reader';

/* What stands on a page stays where it is while the rest comes: whoever presses something meets what they meant. */

let reader: Reader;
beforeAll(async () => {
  reader = await Reader.arrive();
});
afterAll(() => reader.leave());

/** The least and the greatest place down the page of each element, of all frames since the page was opened. */
type Places = Record<string, [least: number, greatest: number]>;

function notePlaces(selectors: string[]): void {
  const places: Places = {};
  const note = () => {
    for (const selector of selectors) {
      const place = document.querySelector(selector)?.getBoundingClientRect().y;
      if (place === undefined) continue;
      const [least, greatest] = places[selector] ?? [place, place];
      places[selector] = [Math.min(least, place), Math.max(greatest, place)];
    }
    requestAnimationFrame(note);
  };
  requestAnimationFrame(note);
  Object.assign(globalThis, { places });
}

/** Less than a line of text; a font that arrives a frame later moves it by some pixels. */
const FAR_PX = 12;

it.each([
  ['/ledger?tape=KELP', ['[aria-label="The ledger"]', 'h1', 'header + *'], '[aria-label="Price lane"]'],
  [
    '/records/KELP',
    ['h1', '[aria-label="Price over the span"]', '[aria-label="Records"]'],
    '[aria-label="Figures"] table',
  ],
])('%s', async (path, stand, comes) => {
  const { identifier } = await reader.page.evaluateOnNewDocument(notePlaces, stand);
  await reader.open(path);
  await reader.find(comes);
  const places = await reader.page.evaluate(async () => {
    // the frame in which it came has been noted then
    for (let frame = 0; frame < 2; frame++) await new Promise(requestAnimationFrame);
    return (globalThis as unknown as { places: Places }).places;
  });
  for (const selector of stand) {
    const [least, greatest] = places[selector];
    expect(greatest - least, selector).toBeLessThan(FAR_PX);
  }
  await reader.page.removeScriptToEvaluateOnNewDocument(identifier);
});

it('fonts are preloaded with the page', async () => {
  const { headers } = await fetch(`${reader.origin}/records`);
  expect(headers.get('link')).toMatch(/latin-opsz-normal[^,]*as="font"/);
});
