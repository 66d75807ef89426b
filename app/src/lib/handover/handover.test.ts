import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { firstLedger, newEntry } from '$lib/api/ledgers';
import { Block, HandoverBody, MOST_KEPT_ROWS, type BlockOf, type Setting } from '$lib/api/handovers';
import { blockHtml } from './blockHtml';
import { chartOf, chartOfLedger, checkedOf, emptyPage, tableOf } from './blocks';
import { chartSvg } from './chartSvg';
import { documentHtml } from './documentHtml';
import { figureText } from '@jaunty-ledger/core';
import { askedBy, entriesFor, figuresIn, WRITTEN } from './figures';
import { filesOfPage } from './filesOfPage';
import { askedOnce, nextIssue, withFiguresOf, withToday, type Sources } from './issue';
import { keptOf, type TapeTold, type ToldColumns } from './take';

/* A page to hand over: what its blocks keep, how they are written, and what they become with new figures. */

const TAPE: TapeTold = {
  ...{ name: 'KELP', zone: 'UTC', precision: 'moment', unit: 'crowns', priceDecimals: 2 },
  report: { file: 'kelp.csv', sha256: 'ab12'.repeat(16) },
};
const SETTING: Setting = {
  tape: 'KELP',
  alone: null,
  bars: '1 day',
  flagged: true,
  entries: ['smooth = mean(close, 3 bars)'],
  from: '',
  to: '',
};
const timeAt = (row: number) => new Date(Date.UTC(2020, 0, 1 + row)).toISOString();

function answerOf(close: readonly (number | null)[]): ToldColumns {
  const smooth = close.map((_, row) => (row < 2 ? null : (close[row]! + close[row - 1]! + close[row - 2]!) / 3));
  const entries: ToldColumns['entries'] = [
    { name: 'smooth', unit: 'price', phrase: 'mean of close over 3 bars', looksAhead: false, role: 'average', lag: 1 },
  ];
  return { version: 1, entries, columns: { time: close.map((_, row) => timeAt(row)), close: [...close], smooth } };
}
/** Sources whose records can be other ones from one question to the next. */
function sourcesOf(close: () => readonly number[]): Sources {
  return {
    tape: () => Promise.resolve(TAPE),
    trust: () => Promise.resolve(''),
    columns: () => Promise.resolve(answerOf(close())),
  };
}
const PANELS = [
  {
    lines: [{ column: 'smooth', label: '', as: 'strong' as const, ink: 0 }],
    scale: 'fit' as const,
    unit: '',
    prefix: '',
  },
];

describe('figures in words', () => {
  it('are what stands within braces, each once', () =>
    expect(figuresIn('At {last close}, {change 5 bars}; {last close} and {}, {mean(close, 20 bars)}')).toEqual([
      'last close',
      'change 5 bars',
      'mean(close, 20 bars)',
    ]));

  it.each([
    ['last close', 'close', false],
    ['change 5 bars', 'return(close, 5)', true],
    ['max(close, 1 year)', 'max(close, 1 year)', false],
  ])('{%s} asks for %s', (says, formula, isChange) => expect(askedBy(says)).toEqual({ formula, isChange }));

  it('need an entry of their own unless their column is there', () =>
    expect(entriesFor(['last close', 'change 5 bars'], ['close']).map(({ text }) => text)).toEqual([
      'figure_in_words_1 = return(close, 5)',
    ]));

  it.each([
    [129.156, 'price', false, '129.16'],
    [-0.5, 'move', true, '−0.50'],
    [0.02321, 'fraction', true, '+2.32 %'],
    [-0.00001, 'fraction', true, '−0.0010 %'],
    [0.00763, 'fraction', false, '0.763 %'],
    [-0.0042, 'move', true, '−0.00420'],
    [-0.00000001, 'fraction', true, '0.0000 %'],
    [1234567, 'units', false, '1,234,567'],
    [1, 'truth', false, 'yes'],
    [null, 'price', false, 'missing'],
    [0.6134, 'number', false, '0.6134'],
  ] as const)('%s as %s is written', (value, unit, isSigned, text) =>
    expect(figureText(value, unit, 2, { ...WRITTEN, isSigned })).toBe(text),
  );
});

describe('what is kept', () => {
  it('has no more rows than it may, and no extreme is lost', () =>
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 9000 }), fc.integer(), (rows, seed) => {
        const close = Array.from({ length: rows }, (_, row) => 100 + Math.sin(seed + row * row));
        const { time, columns, each, origin } = keptOf(SETTING, answerOf(close), TAPE, ['close'], timeAt(0));
        expect(time.length).toBe(columns.close.length);
        expect(time.length).toBeLessThanOrEqual(MOST_KEPT_ROWS);
        if (rows <= MOST_KEPT_ROWS) expect([each, columns.close]).toEqual([1, close]);
        const there = columns.close.filter((value) => value !== null);
        expect([Math.min(...there), Math.max(...there)]).toEqual([Math.min(...close), Math.max(...close)]);
        expect([origin.rows, origin.to]).toEqual([rows, timeAt(rows - 1)]);
        // what its legend says of now is the last value, not an extreme about it
        expect(columns.close.at(-1)).toBe(close.at(-1));
      }),
      { numRuns: 30 },
    ));

  it('draws a projection as a fan between its ends, and currencies before figures', async () => {
    const { kept, ...chart } = (await chartOf(
      'Kelp',
      SETTING,
      PANELS,
      sourcesOf(() => [1, 2, 3, 4]),
    )) as BlockOf<'chart'>;
    const columns = { p: [2, 3, 4, 5], 'p.low': [1, 1, 1, 1], 'p.high': [4, 5, 6, 7] };
    const lines = Object.keys(columns).map((column) => ({ column, label: '', as: 'plain' as const, ink: 1 }));
    const svgOf = (role: 'projection' | 'average') =>
      chartSvg({
        ...chart,
        panels: [{ ...PANELS[0], lines, prefix: 'kr ' }],
        kept: { ...kept!, columns, facts: [{ ...kept!.facts[0], name: 'p', role }] },
      });
    const marksIn = (svg: string) => svg.match(/<path/g)!.length;
    expect(marksIn(svgOf('projection'))).toBe(marksIn(svgOf('average')) + 1);
    expect(svgOf('projection')).toMatch(/>kr \d/);
  });

  it('gives every line of a ledger an ink of its own, those of a fan too', async () => {
    const { body } = firstLedger('KELP', '1 day');
    body.lanes[0].entries = [
      newEntry('a', 'fast = ema(close, 5)', 1),
      newEntry('b', 'smooth = mean(close, [10, 25])', 2),
    ];
    const fact = { unit: 'price', phrase: '', looksAhead: false, role: 'average', lag: 1 } as const;
    const names = ['fast', 'smooth[10]', 'smooth[25]'];
    const answer = {
      ...answerOf([1, 2, 3]),
      entries: names.map((name) => ({ ...fact, name })),
    };
    for (const name of names) answer.columns[name] = [1, 2, 3];
    const { panels } = (await chartOfLedger('Kelp', body, {
      ...sourcesOf(() => []),
      columns: () => Promise.resolve(answer),
    })) as BlockOf<'chart'>;
    const inks = panels[0].lines.filter(({ column }) => column !== 'close').map(({ ink }) => ink);
    expect(inks).toHaveLength(3);
    expect(new Set(inks).size).toBe(3);
  });

  it('tells blank starts, and where figures come from', async () => {
    const block = await chartOf(
      'Kelp',
      SETTING,
      PANELS,
      sourcesOf(() => [1, 2, 3, 4]),
    );
    const html = blockHtml(block);
    expect(html).toContain('smooth begins on 2020-01-03, 2 rows short.');
    expect(html).toContain('KELP, kelp.csv (ab12…ab12), bars of 1 day, 2020-01-01 to 2020-01-04, 4 in all');
    expect(html).toContain('smooth: mean of close over 3 bars');
  });

  it('says the same source once, under the first of the blocks that have it', async () => {
    const sources = sourcesOf(() => [1, 2, 3, 4]);
    const chart = await chartOf('Kelp', SETTING, PANELS, sources);
    const table = await tableOf(SETTING, 'standing', sources);
    const page = { ...emptyPage(''), blocks: [chart, table] };
    const count = (html: string) => html.split('class="source"').length - 1;
    expect([blockHtml(table), blockHtml(table, chart)].map(count)).toEqual([1, 0]);
    expect(count(documentHtml('Kelp', page))).toBe(1);
    const other = await tableOf({ ...SETTING, tape: 'SALT' }, 'standing', {
      ...sources,
      tape: () => Promise.resolve({ ...TAPE, name: 'SALT' }),
    });
    expect(blockHtml(other, chart)).toContain('SALT, kelp.csv');
  });

  it('calls single values as their file does', async () => {
    const { body } = firstLedger('RAIN', '1 day');
    const { panels } = (await chartOfLedger('Rain', body, {
      ...sourcesOf(() => [1, 2, 3]),
      tape: () => Promise.resolve({ ...TAPE, kind: 'series', valueName: 'rainfall_mm' }),
    })) as BlockOf<'chart'>;
    expect(panels[0].lines.map(({ column, label }) => [column, label])).toContainEqual(['close', 'rainfall_mm']);
  });

  it('a checked box can be followed with a calculator', async () => {
    const block = await checkedOf(
      SETTING,
      'close',
      sourcesOf(() => [127.27, 126.09, 125.81, 128.62, 129.16]),
    );
    expect(blockHtml(block)).toContain('their sum is 636.95, over 5 that is 127.3900');
  });

  it('a checked box of a mean lists what it is the mean of, and comes out at it', async () => {
    const close = [127.27, 126.09, 125.81, 128.62, 129.16];
    const html = blockHtml(
      await checkedOf(
        SETTING,
        'smooth',
        sourcesOf(() => close),
      ),
    );
    expect(html).toContain('mean of close over 3 bars, is 127.86. The last 3 rows of close are 125.81 (2020-01-03)');
    expect(html).toContain('their sum is 383.59, over 3 that is 127.8633');
  });

  it('names every file that the records came from, with the checksum of the last', async () => {
    const sources = sourcesOf(() => [1, 2, 3]);
    const appended = [{ file: 'more.csv', sha256: 'cd34'.repeat(16) }];
    const block = await chartOf('', SETTING, PANELS, {
      ...sources,
      tape: () => Promise.resolve({ ...TAPE, appended }),
    });
    expect(blockHtml(block)).toContain('KELP, kelp.csv, more.csv (cd34…cd34)');
  });

  it('columns may have names that every object has', async () => {
    const lines = ['toString', 'constructor', '__proto__'].map((column) => ({ ...PANELS[0].lines[0], column }));
    const block = await chartOf(
      'Kelp',
      SETTING,
      [{ ...PANELS[0], lines }],
      sourcesOf(() => [1, 2, 3]),
    );
    expect(blockHtml(block)).not.toMatch(/NaN|undefined|native code/);
    const page = { ...emptyPage(''), blocks: [block] };
    expect(documentHtml('Kelp', page)).toContain('KELP, kelp.csv');
    expect(filesOfPage('Kelp', page)['page.md']).not.toMatch(/NaN|undefined|native code/);
  });

  it('a table tells now, before, and the range', async () => {
    const block = (await tableOf(
      SETTING,
      'standing',
      sourcesOf(() => [1, 9, 2, 3, 4, 5, 6]),
    )) as BlockOf<'table'>;
    expect(block.told!.rows[0]).toEqual(['close', 6, 9, 1, 9]);
  });
});

describe('a page as a document', () => {
  const hostile = '<script>alert(1)</script>" onload="x" & {last close}';
  const all = async (): Promise<HandoverBody> => {
    const chart = await chartOf(
      hostile,
      SETTING,
      [{ ...PANELS[0], unit: '<b>' }],
      sourcesOf(() => [1, 2, 3]),
    );
    const given = {
      id: 'g',
      kind: 'given',
      title: hostile,
      head: [hostile],
      rows: [[hostile], [null]],
      source: hostile,
    };
    const others = [
      { id: 'p', kind: 'paragraph', text: hostile },
      { id: 'v', kind: 'verdict', question: hostile, text: hostile, figures: hostile },
      {
        id: 'i',
        kind: 'picture',
        title: hostile,
        svg: '<svg xmlns="http://www.w3.org/2000/svg"><script>alert(2)</script></svg>',
      },
      given,
    ].map((block) => Block.parse(block));
    return { ...emptyPage('2026-04-24'), reader: hostile, blocks: [chart, ...others] };
  };

  it('runs nothing and fetches nothing, whatever its words are', async () => {
    const html = documentHtml(hostile, await all());
    expect(html).not.toMatch(/<script|onload="|<b>[^0-9]/i);
    const fetched = [...html.matchAll(/(?:src|href)="([^"]*)"/g)].map(([, address]) => address);
    for (const address of fetched) expect(address).toMatch(/^data:(image\/svg\+xml|text\/csv)/);
    expect(html).not.toMatch(/url\(|@import|https?:\/\/(?!www\.w3\.org\/2000\/svg)/);
  });

  it('of six charts with all the rows they may have is below 500 kB', async () => {
    const close = Array.from({ length: 40_000 }, (_, row) =>
      Number((100 + 20 * Math.sin(row / 300) + (row % 7)).toFixed(2)),
    );
    const chart = await chartOf(
      'Kelp',
      SETTING,
      [{ ...PANELS[0], lines: [...PANELS[0].lines, { ...PANELS[0].lines[0], column: 'close' }] }],
      sourcesOf(() => close),
    );
    const blocks = Array.from({ length: 6 }, (_, at) => ({ ...chart, id: `chart-${at}` }));
    expect(documentHtml('Kelp', { ...emptyPage(''), blocks }).length).toBeLessThan(500_000);
  });

  it('as files has its words, a picture and the figures of each chart', async () => {
    const files = filesOfPage('Kelp & co', await all());
    const names = Object.keys(files);
    expect(names.filter((name) => name.endsWith('.svg'))).toHaveLength(2);
    expect(files['page.md']).toContain('# Kelp & co');
    const csv = files[names.find((name) => name.endsWith('.csv'))!];
    expect(csv.split('\n')[0]).toBe('time,smooth');
    for (const [, file] of files['page.md'].matchAll(/\]\(([^)]+)\)/g)) expect(names).toContain(file);
  });
});

describe('the next issue', () => {
  it('has new figures where blocks follow, tells what has changed, and leaves what is frozen', async () => {
    let close = [1, 2, 3];
    const sources = sourcesOf(() => close);
    const chart = (await chartOf('Kelp', SETTING, PANELS, sources)) as BlockOf<'chart'>;
    const before = { ...emptyPage('2026-04-24'), blocks: [chart, { ...chart, id: 'frozen', follows: false }] };
    close = [1, 2, 3, 7];
    const after = await nextIssue(before, sources, '2026-05-01T12:00:00.000Z');
    const [now, frozen] = after.blocks as BlockOf<'chart'>[];
    expect(now.kept!.columns.smooth.at(-1)).toBe(4);
    expect(frozen.kept).toEqual(chart.kept);
    expect(after.changes).toEqual(['smooth: 2.00, now 4.00']);
    expect(after.day).toBe('2026-05-01');
    expect(HandoverBody.parse(after)).toEqual(after);
  });

  it('a drafted paragraph is drafted anew, an edited one keeps its words', async () => {
    let close = [1, 2, 3, 4, 5, 6, 7];
    const draft = { ...{ id: 'p', kind: 'paragraph', text: '', isDrafted: true }, setting: SETTING };
    const drafted = (await withToday(
      Block.parse(draft) as BlockOf<'paragraph'>,
      sourcesOf(() => close),
      timeAt(0),
    )) as BlockOf<'paragraph'>;
    expect(drafted.text).toContain('above smooth');
    close = [7, 6, 5, 4, 3, 2, 1];
    const again = async (block: BlockOf<'paragraph'>) =>
      (
        (await withToday(
          block,
          sourcesOf(() => close),
          timeAt(0),
        )) as BlockOf<'paragraph'>
      ).text;
    expect(await again(drafted)).toContain('below smooth');
    expect(await again({ ...drafted, isDrafted: false, text: 'It stands at {last close}.' })).toBe(
      'It stands at {last close}.',
    );
  });
});

describe('figures that come while a block is changed', () => {
  const chart = async () =>
    (await chartOf(
      'Kelp',
      SETTING,
      PANELS,
      sourcesOf(() => [1, 2, 3]),
    )) as BlockOf<'chart'>;

  it('are taken into what it is by then, and nothing that was changed is lost', async () => {
    const asked = await chart();
    const given = { ...asked, kept: { ...asked.kept!, each: 2 } };
    const renamed = { ...asked, title: 'Another title' };
    expect(withFiguresOf(renamed, asked, given)).toEqual({ ...renamed, kept: given.kept });
  });

  it('are dropped where it asks for something else by then, or is gone', async () => {
    const asked = await chart();
    expect(withFiguresOf({ ...asked, setting: { ...SETTING, bars: '1 week' } }, asked, asked)).toBeUndefined();
    expect(withFiguresOf(undefined, asked, asked)).toBeUndefined();
  });

  it('are asked for once by all blocks of one act', async () => {
    const questions: string[] = [];
    const sources = sourcesOf(() => [1, 2, 3]);
    const once = askedOnce({ ...sources, columns: (body) => (questions.push(body.tape), sources.columns(body)) });
    await chartOf('One', SETTING, PANELS, once);
    await tableOf(SETTING, 'standing', once);
    expect(questions).toEqual(['KELP']);
  });
});
