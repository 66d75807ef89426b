import { quantile } from './timing.mjs';

const CHARTS = 10;
const OPENED = 5;

/** A page of ten charts in a browser: until all are drawn, and until it has left as files. */
export async function handoverPageRows(page, origin) {
  const ask = async (path, body) => {
    const answer = await fetch(`${origin}/api/${path}`, {
      method: 'POST',
      body: JSON.stringify(body),
      headers: { 'content-type': 'application/json' },
    });
    if (!answer.ok) throw new Error(await answer.text());
    return answer.json();
  };
  const setting = {
    ...{ tape: 'MILLION', bars: '1 hour', from: '2024-01-01T00:00:00Z', to: '2024-02-19T00:00:00Z' },
    entries: ['smooth = mean(close, 20 bars)', 'wild = stdev(logreturn(close), 20 bars)'],
  };
  const { id } = await ask('handovers', { title: 'Ten charts', body: {} });
  await page.goto(`${origin}/handover/${id}`);
  const { columns, version } = await ask('columns', setting);
  const numbers = Object.entries(columns).filter(([name]) => ['close', 'smooth', 'wild'].includes(name));
  const fact = (name) => ({ name, unit: 'number', phrase: name, looksAhead: false, role: 'other', lag: null });
  const origins = {
    tape: 'MILLION',
    bars: '1 hour',
    version,
    file: '',
    sha256: '',
    unit: '',
    decimals: 2,
    zone: 'UTC',
  };
  const line = (column, ink) => ({ column, label: column, as: 'plain', ink });
  const chart = {
    ...{ kind: 'chart', title: 'A chart', setting },
    panels: [{ lines: [line('close', 0), line('smooth', 2)] }, { lines: [line('wild', 3)] }],
    kept: {
      origin: {
        ...{ ...origins, precision: 'moment', from: columns.time[0], to: columns.time.at(-1) },
        ...{ rows: columns.time.length, at: columns.time[0] },
      },
      ...{
        each: 1,
        time: columns.time,
        columns: Object.fromEntries(numbers),
        facts: numbers.map(([name]) => fact(name)),
      },
      ...{ formulas: {}, short: {} },
    },
  };
  const blocks = Array.from({ length: CHARTS }, (_, at) => ({ ...chart, id: `chart-${at}` }));
  const { id: made } = await ask('handovers', { title: 'Ten charts', body: { blocks } });
  const opened = [];
  for (let run = 0; run < OPENED; run++) {
    const started = performance.now();
    await page.goto(`${origin}/handover/${made}`);
    await page.waitForFunction((all) => document.querySelectorAll('article figure > svg').length === all, {}, CHARTS);
    opened.push(performance.now() - started);
  }
  const left = await page.evaluate(async () => {
    const took = {};
    for (const name of ['HTML', 'files']) {
      const started = performance.now();
      [...document.querySelectorAll('button')].find((button) => button.textContent.trim() === name).click();
      took[name] = performance.now() - started;
    }
    return took;
  });
  return [
    [
      `a page with ${CHARTS} charts of ${columns.time.length.toLocaleString('en')} rows opened until all are drawn`,
      `median ${quantile(opened, 0.5).toFixed(0)} ms`,
      `the longest ${Math.max(...opened).toFixed(0)} ms; asked 1 s`,
    ],
    [
      'the same as one HTML file',
      `${left.HTML.toFixed(0)} ms`,
      `as Markdown with its files ${left.files.toFixed(0)} ms; asked 2 s`,
    ],
  ];
}
