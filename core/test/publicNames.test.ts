import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import * as core from '../src/index.js';
import * as bars from '../src/entry/bars.js';
import * as compare from '../src/entry/compare.js';
import * as examine from '../src/entry/examine.js';
import * as project from '../src/entry/project.js';
import * as windows from '../src/entry/windows.js';

/* Names that others build on: they stay, from the package and from its parts. */

const PARTS: [name: string, part: object, names: string[]][] = [
  ['bars', bars, ['parseBarRule', 'makeCalendar', 'buildBars', 'BarRuleError', 'frameOf']],
  ['windows', windows, ['evaluate', 'FormulaError', 'catalogue']],
  [
    'examine',
    examine,
    [
      ...['summary', 'autocorrelation', 'crossCorrelation', 'adf', 'kpss', 'varianceRatio', 'archTest', 'cycles'],
      ...['seasonalShape', 'profile', 'rollingHurst'],
    ],
  ],
  ['project', project, ['project', 'fitArima', 'chooseArima', 'residualChecks', 'rollingOrigin', 'ModelRefusal']],
  [
    'compare',
    compare,
    [
      ...['joinColumns', 'rebased', 'groupAverage', 'spread', 'halfLife', 'correlationMatrix', 'cointegration'],
      'divergences',
    ],
  ],
];

it.each(PARTS)(
  '%s has its names, which the whole package has too, and is an entry of the package',
  (name, part, names) => {
    for (const one of names) {
      expect(part, one).toHaveProperty(one);
      expect((core as Record<string, unknown>)[one], one).toBe((part as Record<string, unknown>)[one]);
    }
    const { exports } = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8')) as {
      exports: Record<string, { default: string }>;
    };
    expect(exports[`./${name}`].default).toBe(`./dist/entry/${name}.js`);
  },
);

it.each([
  ['last(season 7)', { model: 'last', season: 7 }],
  ['mean 20', { model: 'mean', rows: 20 }],
  ['ema 0.3', { model: 'ema', a: 0.3 }],
  ['growth 10', { model: 'growth', rows: 10 }],
  [
    'arima(0, 1, 1)(0, 1, 1) season 12, of: log',
    { model: 'arima', order: [0, 1, 1], seasonal: [0, 1, 1], season: 12, of: 'log' },
  ],
] as [string, core.ModelFields][])('the model `%s` is the same as text and as fields', (text, fields) => {
  const x = Float64Array.from({ length: 60 }, (_, row) => 100 + row + 9 * Math.sin(row / 2) + ((row * 37) % 11));
  expect(core.project(x, text, 5)).toEqual(core.project(x, fields, 5));
});
