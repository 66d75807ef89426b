import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer, { type Browser, type BrowserContext, type Page } from 'puppeteer-core';
import { inject } from 'vitest';
import type { TestProject } from 'vitest/node';
import { CHROMIUM_FLAGS } from '../scripts/chromiumFlags.mjs';

declare module 'vitest' {
  export interface ProvidedContext {
    /** Of the Chromium that all tests of a run share. */
    browserAddress: string;
  }
}

/** A context that shares no cookies, storage or cache with others, and a page of it. */
export interface FreshBrowser {
  context: BrowserContext;
  page: Page;
  close(): Promise<void>;
}

/** Starts the Chromium of a run, or takes the one that is there. */
export default async function setup({ provide }: TestProject) {
  const address = process.env.E2E_BROWSER;
  if (address !== undefined) return provide('browserAddress', address);
  const profile = mkdtempSync(join(tmpdir(), 'jaunty-browser-'));
  const browser = await puppeteer.launch({
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    userDataDir: profile,
    args: CHROMIUM_FLAGS,
  });
  provide('browserAddress', browser.wsEndpoint());
  return async () => {
    await browser.close();
    rmSync(profile, { recursive: true, force: true });
  };
}

let connection: Promise<Browser> | undefined;

export async function freshBrowser(): Promise<FreshBrowser> {
  connection ??= puppeteer.connect({ browserWSEndpoint: inject('browserAddress') });
  const context = await (await connection).createBrowserContext();
  const page = await context.newPage();
  // what takes a second takes longer beside other tests
  page.setDefaultTimeout(60_000);
  return { context, page, close: () => context.close() };
}

/** Waits until a page says something. */
export const pageSays = (page: Page, words: string) =>
  page.waitForFunction((wanted) => document.body.innerText.includes(wanted), {}, words);
