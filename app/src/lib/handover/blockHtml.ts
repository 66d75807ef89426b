import { decimalsOf, figureText, instantOf, makeCalendar } from '@jaunty-ledger/core';
import type { Block, BlockOf, Cell, ChartLine, Kept, LineFacts, Origin } from '$lib/api/handovers';
import { escaped } from '$lib/components/markup';
import { csvText } from '$lib/pages/figureFiles';
import { momentFigures } from '$lib/plots/stretchText';
import { chartSvg, drawnLines, lineStyle } from './chartSvg';
import { withFigures, WRITTEN } from './figures';
import { own } from './own';

/* Blocks as HTML: the same on the page, in print and in a file. All that comes from outside is escaped. */

/** Rows of a chart's figures that stand in its table; all of them are in its CSV. */
const MOST_TABLE_ROWS = 40;

const timeText = (time: string, { zone, precision, bars }: Origin): string => {
  if (!time) return '';
  const calendar = makeCalendar({ zone, ...(precision === 'period' && { undated: true }) });
  // bars of a day and more are told by their day
  const isLong = /\b(day|week|month|quarter|year)s?\b/.test(bars);
  return momentFigures(instantOf(time), calendar, precision === 'moment' && isLong ? 'day' : precision);
};

const cut = (sha256: string): string => (sha256 ? ` (${sha256.slice(0, 4)}…${sha256.slice(-4)})` : '');

/** Where figures come from, in a line. */
export function originText(origin: Origin): string {
  const { tape, file, sha256, bars, from, to, rows, at } = origin;
  const of = file ? `${file}${cut(sha256)}` : 'records made here';
  const span = from ? `, ${timeText(from, origin)} to ${timeText(to, origin)}` : '';
  return `${tape}, ${of}, bars of ${bars}${span}, ${rows.toLocaleString('en')} in all; taken ${at.slice(0, 16).replace('T', ' ')} UTC`;
}

/** Where the figures of a block come from, and what they are in words. */
function sourceOf(block: Block): { origin: string; words: string[] } {
  const inWords = (phrases: Readonly<Record<string, string>>) =>
    Object.entries(phrases).map(([name, phrase]) => `${name}: ${phrase}`);
  switch (block.kind) {
    case 'chart':
      if (!block.kept) break;
      return { origin: originText(block.kept.origin), words: inWords(phrasesOf(block, block.kept)) };
    case 'table':
      if (!block.told) break;
      return { origin: originText(block.told.origin), words: inWords(block.told.phrases) };
    case 'checked':
      if (!block.told?.values.some((one) => one !== null)) break;
      return { origin: originText(block.told.origin), words: [] };
    case 'paragraph': {
      const by = block.figures.filter(({ problem }) => problem === '').map(({ says }) => says);
      if (!block.origin || by.length === 0) break;
      return { origin: originText(block.origin), words: [`Figures by ${by.join('; ')}`] };
    }
    case 'given':
    case 'picture':
    case 'verdict':
      return { origin: block.source, words: [] };
    case 'divider':
  }
  return { origin: '', words: [] };
}

/** The source of a block as far as the block before has not said it. */
function sourceHtml(block: Block, before: Block | undefined): string {
  const { origin, words } = sourceOf(block);
  const said = before ? sourceOf(before) : { origin: '', words: [] };
  const fresh = words.filter((one) => !said.words.includes(one)).join('; ');
  const text = [origin === said.origin ? '' : origin, fresh].filter(Boolean).join('. ');
  return text ? `<p class="source">${escaped(text)}</p>` : '';
}

/** @param before  the block above it, whose source is not said again */
export const blockHtml = (block: Block, before?: Block): string => contentHtml(block) + sourceHtml(block, before);

function contentHtml(block: Block): string {
  switch (block.kind) {
    case 'paragraph':
      return paragraphHtml(block);
    case 'chart':
      return chartHtml(block);
    case 'table':
      return block.told ? toldTableHtml(block) : '<p class="none">This table has no figures yet.</p>';
    case 'given':
      return `${titleHtml(block.title)}${tableHtml(block.head, givenRows(block))}`;
    case 'picture':
      return `<figure>${captionHtml(block.title)}<img alt="${escaped(block.title)}" src="data:image/svg+xml,${encodeURIComponent(block.svg)}"></figure>`;
    case 'verdict':
      return `${titleHtml(block.question)}<p>${escaped(block.text)}${block.figures ? ` <small>${escaped(block.figures)}</small>` : ''}</p>`;
    case 'checked':
      return checkedHtml(block);
    case 'divider':
      return '<hr>';
  }
}

const titleHtml = (title: string): string => (title ? `<h3>${escaped(title)}</h3>` : '');
const captionHtml = (title: string): string => (title ? `<figcaption>${escaped(title)}</figcaption>` : '');

function paragraphHtml({ text, figures }: BlockOf<'paragraph'>): string {
  const written = (part: string) =>
    withFigures(part, figures, escaped, (says, figure) => {
      if (!figure) return `<s title="Not computed yet">${escaped(says)}</s>`;
      if (figure.problem) return `<s title="${escaped(figure.problem)}">${escaped(figure.text || says)}</s>`;
      return `<span class="figure" title="${escaped(says)}">${escaped(figure.text)}</span>`;
    });
  const parts = text.split(/\n\s*\n/).filter((part) => part.trim() !== '');
  const html = parts.map((part) =>
    part.startsWith('# ') ? `<h2>${written(part.slice(2))}</h2>` : `<p>${written(part)}</p>`,
  );
  return html.join('');
}

const factsOf = ({ facts }: Kept, column: string): LineFacts | undefined => facts.find(({ name }) => name === column);

/** Every line of a chart by its name, the price too, with its mark, its last figure, and that it looks ahead. */
function legendHtml(block: BlockOf<'chart'>, kept: Kept): string {
  const lines = block.panels.flatMap((panel) => drawnLines(panel, kept).reverse());
  const items = lines.map((line) => {
    const { colour, widthPx, dash } = lineStyle(line);
    const mark = `<svg width="26" height="8" aria-hidden="true"><line x2="26" y1="4" y2="4" stroke="${colour}" stroke-width="${widthPx}" stroke-dasharray="${dash.join(' ')}"/></svg>`;
    const facts = factsOf(kept, line.column);
    const last = kept.columns[line.column].findLast((value) => value !== null) ?? null;
    const figure = figureText(last, facts?.unit ?? 'number', kept.origin.decimals, WRITTEN);
    return `<li>${mark} ${escaped(lineName(line))} <b>${figure}</b>${markOf(facts)}</li>`;
  });
  return `<ul class="legend">${items.join('')}</ul>`;
}

const markOf = (facts: LineFacts | undefined): string => {
  if (facts?.role === 'projection') return ' <em>projected</em>';
  return facts?.looksAhead ? ' <em>looks ahead</em>' : '';
};

export const lineName = ({ label, column }: Pick<ChartLine, 'label' | 'column'>): string => label || column;

/** What a reader has to know of a chart's lines: where they begin, what they look ahead to, how they were thinned. */
export function footnotesOf(block: BlockOf<'chart'>, kept: Kept): string[] {
  const lines = block.panels.flatMap((panel) => drawnLines(panel, kept).map((line) => ({ line, panel })));
  const starts = lines.flatMap(({ line }) => {
    const short = own(kept.short, line.column);
    if (!short) return [];
    const first = kept.columns[line.column].findIndex((value) => value !== null);
    return [
      `${lineName(line)} begins on ${timeText(kept.time[first], kept.origin)}, ${short.toLocaleString('en')} rows short.`,
    ];
  });
  const ahead = lines.filter(({ line }) => {
    const facts = factsOf(kept, line.column);
    return facts?.looksAhead && facts.role !== 'projection';
  });
  const projected = lines.filter(({ line: { column } }) => factsOf(kept, column)?.role === 'projection');
  const rebased = lines.filter(({ panel }) => panel.scale === 'rebased');
  return [
    ...starts,
    ...ahead.map(({ line }) => `${lineName(line)} looks ahead: it uses rows later than its own.`),
    ...(projected.length > 0
      ? [`Right of the dotted line is a forecast, not data: ${projected.map(({ line }) => lineName(line)).join(', ')}.`]
      : []),
    ...(rebased.length > 0 ? ['Lines are 100 at their first row.'] : []),
    ...(block.panels.some(({ scale }) => scale === 'log') ? ['Equal shares take equal heights.'] : []),
    ...(kept.each > 1 ? [`Of each ${kept.each} rows the min and the max are drawn.`] : []),
  ];
}

function chartHtml(block: BlockOf<'chart'>): string {
  const { kept, title } = block;
  if (!kept) return `${titleHtml(title)}<p class="none">This chart has no figures yet.</p>`;
  const notes = footnotesOf(block, kept).map((note) => `<p class="note">${escaped(note)}</p>`);
  return `<figure>${captionHtml(title)}${legendHtml(block, kept)}${chartSvg(block)}</figure>${notes.join('')}`;
}

/** The entries of a chart in words, by their names. */
function phrasesOf(block: BlockOf<'chart'>, kept: Kept): Record<string, string> {
  const shown = new Set(block.panels.flatMap((panel) => drawnLines(panel, kept).map(({ column }) => column)));
  const told = kept.facts.filter(({ name }) => shown.has(name) && own(kept.formulas, name));
  return Object.fromEntries(told.map(({ name, phrase }) => [name, phrase]));
}

/** Figures of a chart as a table: time, then each line under its name. */
export function chartFigures(block: BlockOf<'chart'>): { head: string[]; rows: Cell[][] } | undefined {
  const { kept, panels } = block;
  if (!kept) return undefined;
  const lines = panels.flatMap((panel) => drawnLines(panel, kept));
  const unique = lines.filter(({ column }, at) => lines.findIndex((one) => one.column === column) === at);
  return {
    head: ['time', ...unique.map(lineName)],
    rows: kept.time.map((time, row) => [time, ...unique.map(({ column }) => kept.columns[column][row])]),
  };
}

/** Figures of a block behind it, folded: a table to read, and all of them as CSV to keep. */
export function figuresHtml(block: Block): string {
  const figures = block.kind === 'chart' ? chartFigures(block) : undefined;
  if (!figures || block.kind !== 'chart' || !block.kept) return '';
  const { origin, facts } = block.kept;
  const units = figures.head.slice(1).map((_, at) => {
    const column = block.panels.flatMap((panel) => drawnLines(panel, block.kept!))[at]?.column;
    return facts.find(({ name }) => name === column)?.unit ?? 'number';
  });
  const last = figures.rows.slice(-MOST_TABLE_ROWS);
  const rows = last.map(([time, ...values]) => [
    timeText(String(time), origin),
    ...values.map((value, at) => (value === null ? '' : figureText(value as number, units[at], origin.decimals))),
  ]);
  const many =
    figures.rows.length > last.length ? `, the last ${last.length} of ${figures.rows.length.toLocaleString('en')}` : '';
  const rounded = figures.rows.map((row) =>
    row.map((cell) => (typeof cell === 'number' ? Number(cell.toPrecision(10)) : shortTime(cell ?? ''))),
  );
  const csv = encodeURIComponent(csvText({ head: figures.head, rows: rounded }))
    .replaceAll('%2C', ',')
    .replaceAll('%3A', ':');
  return `<details><summary>The figures${many}</summary>${tableHtml(figures.head, rows)}<p><a download="${escaped(fileName(block.title))}.csv" href="data:text/csv;charset=utf-8,${csv}">All of them as CSV</a>, to ten figures</p></details>`;
}

/** A moment without the seconds that it has none of. */
const shortTime = (time: string): string => time.replace(/:00(\.0+)?Z$/, 'Z');

export const fileName = (title: string): string => title.replaceAll(/[^\w.-]+/g, '_').slice(0, 60) || 'figures';

/** Cells that another page has made: figures of a column with as many places each, moments without their seconds. */
export function givenRows({ rows }: Pick<BlockOf<'given'>, 'rows'>): string[][] {
  const width = Math.max(0, ...rows.map((row) => row.length));
  const columns = Array.from({ length: width }, (_, at) =>
    rows.flatMap((row) => (typeof row[at] === 'number' ? [Number(row[at].toPrecision(5))] : [])),
  );
  const places = columns.map((values) => Math.min(8, decimalsOf(Float64Array.from(values))));
  return rows.map((row) =>
    row.map((cell, at) => {
      if (cell === null) return '';
      if (typeof cell === 'string') return cell.replace(/^(\d{4}-\d\d-\d\d)T(\d\d:\d\d)(:00)?Z$/, '$1 $2');
      const written = { minimumFractionDigits: places[at], maximumFractionDigits: places[at] };
      return cell.toLocaleString('en', written).replace('-', '−');
    }),
  );
}

const isFigure = (text: string): boolean => /^[−+-]?[\d.,]+( .{1,4})?$/.test(text);

/** The first column names the rows; figures stand at the right. */
function tableHtml(head: readonly string[], rows: readonly (readonly string[])[]): string {
  const figures = head.map((_, at) => rows.every((row) => !row[at] || isFigure(row[at])));
  const cells = (row: readonly string[]) =>
    row.map((cell, at) =>
      at === 0
        ? `<th scope="row">${escaped(cell)}</th>`
        : `<td${figures[at] ? ' class="figure"' : ''}>${escaped(cell)}</td>`,
    );
  return `<table><thead><tr>${head.map((name, at) => `<th scope="col"${at > 0 && figures[at] ? ' class="figure"' : ''}>${escaped(name)}</th>`).join('')}</tr></thead><tbody>${rows.map((row) => `<tr>${cells(row).join('')}</tr>`).join('')}</tbody></table>`;
}

/** A table that was taken, with its figures written by their units. */
export function toldTableRows({ told, shows }: BlockOf<'table'>): { head: string[]; rows: string[][] } {
  if (!told) return { head: [], rows: [] };
  const { origin, head, units, rows, facts } = told;
  const text = (cell: Cell, unit: LineFacts['unit'] | null) =>
    typeof cell === 'number' ? figureText(cell, unit ?? 'number', origin.decimals) : (cell ?? '');
  if (shows === 'rows')
    return {
      head,
      rows: rows.map(([time, ...values]) => [
        timeText(String(time), origin),
        ...values.map((value, at) => text(value, units[at + 1])),
      ]),
    };
  return {
    head,
    rows: rows.map(([name, ...values]) => [
      String(name),
      ...values.map((value) => text(value, own(facts, String(name)) ?? 'number')),
    ]),
  };
}

function toldTableHtml(block: BlockOf<'table'>): string {
  const { head, rows } = toldTableRows(block);
  return `${titleHtml(block.title)}${tableHtml(head, rows)}`;
}

/** The last value, the rows that make it or that it stands among, and their mean, to be checked with a calculator. */
function checkedHtml({ told, column }: BlockOf<'checked'>): string {
  if (!told) return `<p class="none">Nothing is called ${escaped(column)} here, or its figures were not taken yet.</p>`;
  const { origin, values, time, unit, phrase, value, of } = told;
  const there = values.filter((one) => one !== null);
  const sum = there.reduce((a, b) => a + b, 0);
  const text = (one: number | null, places = origin.decimals) => figureText(one, unit, places, WRITTEN);
  if (there.length === 0) return `<p><b>Checked</b>: ${escaped(of)} has no value in these rows.</p>`;
  const listed = values.map((one, at) => `${text(one)} (${timeText(time[at], origin)})`).join(', ');
  return `<p><b>Checked</b>: the last value of ${escaped(column)}, ${escaped(phrase)}, is ${text(value)}. ${of === column ? `Its last ${values.length} rows are` : `The last ${values.length} rows of ${escaped(of)} are`} ${escaped(listed)}; their sum is ${text(sum)}, over ${there.length} that is ${text(sum / there.length, origin.decimals + 2)}.</p>`;
}
