import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ElementHandle, Page } from 'puppeteer-core';

import { freshBrowser, pageSays, type FreshBrowser } from './browser.js';
import { holdToDescription } from './description.js';
import { origin as ownOrigin } from './ownServer';

/** Someone who reads and works the book in a browser. What is awaited here appears within seconds or the test fails. */
export class Reader {
  readonly origin = ownOrigin;
  /** Errors that the page has thrown; whoever leaves has met with none. */
  readonly errors: string[] = [];

  readonly page: Page;

  private constructor(private readonly fresh: FreshBrowser) {
    const { page } = fresh;
    this.page = page;
    page.on('pageerror', (error) => this.errors.push(String(error)));
    holdToDescription(page, (fault) => this.errors.push(fault));
  }

  static async arrive(width = 1280, height = 800): Promise<Reader> {
    const fresh = await freshBrowser();
    await fresh.page.setViewport({ width, height });
    return new Reader(fresh);
  }

  /** @throws where the page has thrown */
  async leave(): Promise<void> {
    await this.fresh.close();
    if (this.errors.length > 0) throw new Error(`the page has thrown: ${this.errors.join('; ')}`);
  }

  /** Has files that pages offer saved to a folder. */
  async saveDownloads(downloadPath: string): Promise<void> {
    const session = await this.page.createCDPSession();
    const { id: browserContextId } = this.fresh.context;
    await session.send('Browser.setDownloadBehavior', { behavior: 'allow', downloadPath, browserContextId });
  }

  async open(path: string): Promise<void> {
    await this.page.goto(this.origin + path, { waitUntil: 'load' });
    await this.page.waitForSelector('html[data-paper]'); // set once the page listens
  }

  /** The ledger of a tape, once its bars are drawn. */
  async openLedger(tape: string): Promise<void> {
    await this.open(`/ledger?tape=${tape}`);
    await this.find('::-p-aria(Price lane)');
  }

  find(selector: string): Promise<ElementHandle<Element>> {
    return this.page.waitForSelector(selector, { visible: true }) as Promise<ElementHandle<Element>>;
  }

  /** A control by its role and accessible name. */
  control(role: string, name: string): Promise<ElementHandle<Element>> {
    return this.find(`::-p-aria([name="${name}"][role="${role}"])`);
  }

  /** Presses a control as soon as it can be pressed and stays where it is. */
  click(role: string, name: string): Promise<void> {
    return this.page.locator(`::-p-aria([name="${name}"][role="${role}"])`).click();
  }

  text(): Promise<string> {
    return this.page.evaluate(() => document.body.innerText);
  }

  /** Waits until the page says something. */
  async sees(words: string): Promise<void> {
    const waiting = pageSays(this.page, words);
    await waiting.catch(async () => {
      throw new Error(`"${words}" is not to be seen in:\n${await this.text()}`);
    });
  }

  async seesNot(words: string): Promise<void> {
    await this.page.waitForFunction((wanted) => !document.body.innerText.includes(wanted), {}, words);
  }

  /** Waits until what was changed is in the store. */
  async saved(): Promise<void> {
    await this.page.waitForFunction(() => /^saved \d/.test(document.querySelector('[role=status]')?.textContent ?? ''));
  }

  /** Writes an entry into the empty line of a lane, by its place from the top. */
  async write(formula: string, lane = 0): Promise<void> {
    await this.find('input[aria-label="New entry"]');
    const lines = await this.page.$$('input[aria-label="New entry"]');
    await lines[lane].click();
    await this.page.keyboard.type(formula);
    await this.page.keyboard.press('Enter');
  }

  /** Writes an entry into the line of a new lane. */
  async writeInNewLane(formula: string): Promise<void> {
    await (await this.control('combobox', 'New entry in a new lane')).click();
    await this.page.keyboard.type(formula);
    await this.page.keyboard.press('Enter');
  }

  /** Picks a file on the shelf's page, and waits until it has been looked into. */
  async pick(...paths: string[]): Promise<void> {
    await this.open('/records');
    const picker = (await this.page.$('input[type="file"]')) as ElementHandle<HTMLInputElement>;
    await picker.uploadFile(...paths);
    await this.find('::-p-aria(Intake) table');
  }

  /** Drops a file on the page, as from a folder of the desktop. */
  async drop(name: string, content: string): Promise<void> {
    await this.page.evaluate(
      (fileName, text) => {
        const transfer = new DataTransfer();
        transfer.items.add(new File([text], fileName, { type: 'text/csv' }));
        document.body.dispatchEvent(new DragEvent('drop', { dataTransfer: transfer, bubbles: true, cancelable: true }));
      },
      name,
      content,
    );
  }

  /** The lines of a canvas that are not paper: how much is drawn in a lane. */
  inkIn(lane: number): Promise<number> {
    return this.page.evaluate((index) => {
      const canvas = document.querySelectorAll<HTMLCanvasElement>('.lane canvas')[index];
      const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
      let inked = 0;
      for (let alpha = 3; alpha < data.length; alpha += 4) if (data[alpha] > 0) inked++;
      return inked;
    }, lane);
  }
}

/** A file on the disk, for the picker. */
export function fileOf(name: string, content: string | Uint8Array): string {
  const path = join(mkdtempSync(join(tmpdir(), 'jaunty-file-')), name);
  writeFileSync(path, content);
  return path;
}
