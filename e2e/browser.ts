import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer, { type Browser, type Page } from 'puppeteer-core';
import { CHROMIUM_FLAGS } from '../scripts/chromiumFlags.mjs';

/** A browser that has seen nothing yet, and a page of it. */
export interface FreshBrowser {
  browser: Browser;
  page: Page;
  close(): Promise<void>;
}

export async function freshBrowser(): Promise<FreshBrowser> {
  const profile = mkdtempSync(join(tmpdir(), 'jaunty-browser-'));
  const browser = await puppeteer.launch({
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    userDataDir: profile,
    args: CHROMIUM_FLAGS,
  });
  const page = await browser.newPage();
  // what comes within a second comes later where other tests run beside
  page.setDefaultTimeout(30_000);
  const close = async () => {
    await browser.close();
    rmSync(profile, { recursive: true, force: true });
  };
  return { browser, page, close };
}

/** Waits until a page says something. */
export const pageSays = (page: Page, words: string) =>
  page.waitForFunction((wanted) => document.body.innerText.includes(wanted), {}, words);
