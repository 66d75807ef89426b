import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { CHROMIUM_FLAGS } from './chromiumFlags.mjs';
import { SERVER_ARGUMENTS } from './serverArguments.mjs';
import { build, findChromium, install, requireNode, root } from './prepare.mjs';

/* Takes the pictures of docs/screenshots anew, from the demo world in a folder of its own. */

const PORT = 4998;
const DAY = { width: 1280, height: 800 };

/** Each view: where it is, how it is set up, and on what paper. */
const VIEWS = [
  { name: 'ledger', path: '/', act: (page) => page.mouse.move(760, 260) },
  { name: 'ledger-night', path: '/', night: true, act: (page) => page.mouse.move(760, 260) },
  { name: 'ledger-narrow', path: '/', size: { width: 390, height: 844 } },
  {
    name: 'working',
    path: '/',
    act: async (page) => {
      await page.keyboard.press('e');
      await page.keyboard.type('memory = hurst(logreturn(close), 256 bars, by: dfa)');
      await page.keyboard.press('Enter');
      await (await page.waitForSelector('::-p-aria(Entry memory)')).hover();
      await (await page.waitForSelector('::-p-aria(More of memory)')).click();
      await (await page.waitForSelector('::-p-aria(Working of memory)')).click();
      await page.waitForSelector('circle');
      await (await page.waitForSelector('::-p-aria(More of memory)')).click();
    },
  },
  {
    name: 'rows',
    path: '/',
    act: async (page) => {
      await page.keyboard.press('r');
      await page.waitForSelector('.foot tbody tr');
    },
  },
  ...[
    ['interval', '15 minutes'],
    ['day', '1 day'],
    ['trades', '500 trades'],
    ['units', '10000 units'],
    ['range', 'range 0.5'],
  ].map(([name, rule]) => ({ name: `bars-${name}`, path: '/', size: { width: 900, height: 420 }, rule })),
  {
    name: 'examine',
    path: '/examine?tape=TIDE&bars=15+minutes&profile=slot',
    act: (page) => page.waitForFunction(() => document.querySelector('.verdicts h2')?.textContent === 'Verdicts'),
  },
  {
    name: 'project',
    path: '/project?tape=KELP_days&bars=1+day&origin=2026-02-27T23:00:00Z&focus=3',
    act: (page) => page.waitForFunction(() => / origins, each /.test(document.body.innerText)),
  },
  {
    name: 'compare',
    path: '/compare?member=LAMP&member=WOOL&member=KELP&member=SALT&bars=1+hour&window=20',
    act: (page) => page.waitForFunction(() => /came back/.test(document.body.innerText)),
  },
  {
    name: 'roll',
    path: '/roll?bars=1+day&back=5&entry=smooth+%3D+mean(close,+20+bars)&entry=wild+%3D+stdev(logreturn(close),+20+bars)&entry=steep+%3D+slope(close,+20+bars)&sort=wild&falling=true',
    act: (page) =>
      page.waitForFunction(
        () =>
          /\d+ tapes/.test(document.querySelector('.told')?.textContent ?? '') && !document.querySelector('.progress'),
      ),
  },
  {
    name: 'handover',
    path: '/handover/1',
    act: async (page) => {
      await page.waitForSelector('article svg[role=img]');
      await page.click('nav[aria-label="Blocks"] ol li:nth-child(2) button');
    },
  },
  { name: 'help', path: '/help' },
  { name: 'records', path: '/records' },
  {
    name: 'intake',
    path: '/records',
    act: async (page, folder) => {
      const file = join(folder, 'kelp-with-flaws.csv');
      writeFileSync(file, await (await fetch(`http://127.0.0.1:${PORT}/records/flawed`)).text());
      await (await page.$('input[type=file]')).uploadFile(file);
      await page.waitForSelector('section table');
    },
  },
  {
    name: 'tape',
    path: '/records',
    act: async (page, folder) => {
      await (await page.$('input[type=file]')).uploadFile(join(folder, 'kelp-with-flaws.csv'));
      await page.waitForSelector('section table');
      await page.click('section button[type=submit]');
      await (await page.waitForSelector('.entered a')).click();
      await page.waitForSelector('.hours');
    },
  },
];

try {
  requireNode();
  install();
  build();
  const folder = mkdtempSync(join(tmpdir(), 'jaunty-screens-'));
  const env = { ...process.env, PORT: String(PORT), JAUNTY_DATA: join(folder, 'data'), JAUNTY_LOG: 'error' };
  const server = spawn(process.execPath, SERVER_ARGUMENTS, {
    cwd: root,
    env,
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  try {
    for await (const text of server.stdout) if (String(text).includes('is open at')) break;
    await takeAll(folder);
  } finally {
    server.kill('SIGKILL');
    rmSync(folder, { recursive: true, force: true });
  }
} catch (error) {
  console.error(error.message);
  process.exitCode = 1;
}

async function takeAll(folder) {
  const { default: puppeteer } = await import('puppeteer-core');
  const out = join(root, 'docs', 'screenshots');
  mkdirSync(out, { recursive: true });
  const browser = await puppeteer.launch({
    executablePath: findChromium(),
    userDataDir: join(folder, 'profile'),
    args: CHROMIUM_FLAGS,
  });
  for (const { name, path, size = DAY, night = false, act, rule } of VIEWS) {
    const page = await browser.newPage();
    await page.setViewport(size);
    await page.emulateMediaFeatures([{ name: 'prefers-color-scheme', value: night ? 'dark' : 'light' }]);
    const address = rule ? await barsOf(rule) : path;
    await page.goto(`http://127.0.0.1:${PORT}${address}`, { waitUntil: 'networkidle0' });
    await act?.(page, folder);
    await new Promise((resolve) => setTimeout(resolve, 500));
    await page.screenshot({ path: join(out, `${name}.png`) });
    console.log(`docs/screenshots/${name}.png`);
    await page.close();
  }
  await browser.close();
}

/** A ledger of nothing but KELP on a rule, and its address. */
async function barsOf(rule) {
  const lanes = [{ id: 'price', base: 'price', weight: 1, entries: [] }];
  const made = await fetch(`http://127.0.0.1:${PORT}/api/ledgers`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ title: `KELP, ${rule}`, body: { tape: 'KELP', rule, lanes, view: null } }),
  });
  return `/ledger/${(await made.json()).id}`;
}
