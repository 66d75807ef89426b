import { expect, it } from 'vitest';
import type { ToldExamination } from '$lib/works/examination/work';
import { csvText } from '$lib/pages/figureFiles';
import { normalPoints } from '$lib/pictures/lines';
import { filesOf } from './examineFiles';
import { extentOfFigures, linePath } from '$lib/pictures/lines';

const told = {
  time: ['2026-02-02T00:00:00Z', '2026-02-03T00:00:00Z'],
  before: [84.2, null],
  after: [null, -0.5],
  every: 1,
  histogram: { edges: [0, 1, 2], counts: [3, 4] },
  memory: { values: { acf: [1, 0.5], pacf: [1, 0.5] }, squares: { acf: [1], pacf: [1] } },
  cycles: { peaks: [] },
  groups: {
    by: 'weekday',
    without: 0,
    list: [
      {
        name: 'Mon',
        count: 2,
        missing: 1,
        zeros: 1,
        mean: 1,
        stdev: null,
        min: 0,
        quartiles: [0, 1, 2],
        max: 2,
      },
    ],
  },
  hurst: [],
  turns: { rows: 1, tops: { rows: [1, 6] }, bottoms: { rows: [4] } },
  verdicts: [{ asks: 'Is it "normal"?', answer: 'no', says: 'No: far values, too often.', figures: 'p 0.01' }],
} as unknown as ToldExamination;

it('each part of an examination that is there is a file of its figures', () => {
  const files = new Map(filesOf(told).map((file) => [file.name as string, csvText(file).trimEnd().split('\n')]));
  expect([...files.keys()]).toEqual(['series', 'turns', 'memory', 'histogram', 'groups', 'verdicts']);
  expect(files.get('series')).toEqual([
    'time,before,after',
    '2026-02-02T00:00:00Z,84.2,',
    '2026-02-03T00:00:00Z,,-0.5',
  ]);
  expect(files.get('memory')![2]).toBe('1,0.5,0.5,,');
  expect(files.get('histogram')![2]).toBe('1,2,4');
  expect(files.get('groups')![1]).toBe('Mon,2,1,1,1,,0,0,1,2,2');
  expect(files.get('turns')!.slice(1)).toEqual([
    '1,2026-02-03T00:00:00Z,top,',
    '4,2026-02-03T00:00:00Z,bottom,',
    '6,2026-02-03T00:00:00Z,top,5',
  ]);
  expect(files.get('verdicts')![1]).toBe('"Is it ""normal""?",no,"No: far values, too often.",p 0.01');
  expect(filesOf({ ...told, every: 7 })[0].says).toBe('the series, a point every 7 rows');
});

it('a line is broken where a figure is missing', () => {
  const same = (value: number) => value;
  expect(linePath([1, 2, null, 4, 5], same, same)).toBe('M0.0 1.0L1.0 2.0M3.0 4.0L4.0 5.0');
  expect(linePath([null], same, same)).toBe('');
  expect([extentOfFigures([null, 3, -1], [7]), extentOfFigures([null])]).toEqual([[-1, 7], undefined]);
  expect(normalPoints({ quantiles: [-1, null, 1], values: [2, 3, null] })).toEqual([[-1, 2]]);
});
