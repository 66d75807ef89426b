import { splitEntry } from '@jaunty-ledger/core';
import type { Block, Chart, HandoverBody, LineFacts, Panel, Paragraph, Setting } from '$lib/api/handovers';
import { stretchInView, type LedgerBody } from '$lib/api/ledgers';
import { randomId } from '$lib/api/randomId';
import { INK_COUNT } from '$lib/chart/inks';
import type { FigureTable } from '$lib/pages/figureFiles';
import { withToday, type Sources } from './issue';
import { columnsBodyOf, factsOf } from './take';

/* Blocks as they are put in. */

export const newId = (): string => randomId(10);

/**
 * What a ledger shows, as a question: its bars, its entries, the stretch in view.
 * @param shown  the stretch, with the row behind its last one; where the page is open it knows better than what is kept
 */
export function settingOfLedger(
  body: LedgerBody,
  shown: { from: string; to: string } | null = stretchInView(body),
): Setting {
  const { tape, rule, flagged, lanes, alone } = body;
  const entries = lanes.flatMap((lane) => lane.entries.filter(({ hidden }) => !hidden).map(({ text }) => text));
  return {
    ...{ tape, bars: rule, flagged, entries },
    ...{ from: shown?.from ?? '', to: shown?.to ?? '' },
    alone: alone && { from: alone.from ?? '', to: alone.to ?? '' },
  };
}

/** Which columns an entry gives: its own, its parts, the members of its fan. */
const isOf = (name: string, entry: string): boolean =>
  name === entry || name.startsWith(`${entry}.`) || name.startsWith(`${entry}[`);

/** Parts that say something beside a line are there to be chosen, and are left out to begin with. */
const isShown = ({ name, role }: LineFacts): boolean => !name.includes('.') || role === 'upper' || role === 'lower';

/**
 * Panels of a chart, by the lanes of a ledger: what was smoothed is strong, the price behind it pale.
 * @param value  what the tape calls its values
 */
function panelsOfLedger({ lanes }: LedgerBody, facts: readonly LineFacts[], value: string): Panel[] {
  const used = new Map<number, number>();
  const use = (ink: number) => used.set(ink, (used.get(ink) ?? 0) + 1);
  for (const { entries } of lanes) for (const { ink, hidden } of entries) if (!hidden) use(ink);
  /** Members of a fan have an ink each, those first that no entry has: an ink is also a pattern of dashes. */
  const nextInk = (): number => {
    const all = Array.from({ length: INK_COUNT }, (_, ink) => ink);
    const ink = all.reduce((best, one) => ((used.get(one) ?? 0) < (used.get(best) ?? 0) ? one : best));
    use(ink);
    return ink;
  };
  const shown = lanes.filter(({ collapsed }) => !collapsed);
  const panels = shown.map((lane): Panel => {
    const entries = lane.entries.filter(({ hidden }) => !hidden);
    const found = entries.flatMap((entry) => {
      const { name } = splitEntry(entry.text);
      return facts.filter((one) => isOf(one.name, name)).map((one) => ({ one, entry, isFan: one.name.includes('[') }));
    });
    const isSmoothed = found.some(({ one }) => one.role === 'average');
    const lines = found.map(({ one, entry, isFan }): Panel['lines'][number] => ({
      column: one.name,
      label: entry.label || one.name.replace('.', ' '),
      as: !isShown(one) ? 'out' : one.role === 'average' ? 'strong' : 'plain',
      ink: isFan ? nextInk() : entry.ink,
    }));
    const has = (name: string) => facts.some((one) => one.name === name);
    const price = lane.base === 'price' && has('close');
    const volume = lane.base === 'volume' && has('volume');
    return {
      lines: [
        ...(price
          ? [{ column: 'close', label: value, as: isSmoothed ? ('pale' as const) : ('plain' as const), ink: 0 }]
          : []),
        ...(volume ? [{ column: 'volume', label: 'volume', as: 'columns' as const, ink: 7 }] : []),
        ...lines,
      ],
      scale: lane.scale === 'log' ? 'log' : lane.scale === 'percent' ? 'rebased' : 'fit',
      unit: lane.unit,
      prefix: lane.prefix,
    };
  });
  const some = panels.filter(({ lines }) => lines.length > 0).slice(0, 8);
  return some.length > 0
    ? some
    : [{ lines: [{ column: 'close', label: value, as: 'plain', ink: 0 }], scale: 'fit', unit: '', prefix: '' }];
}

/** Something of a page that can be handed over; it is made where it is chosen. */
export interface HandedOver {
  says: string;
  make: (sources: Sources) => Promise<Block[]>;
}

const now = (): string => new Date().toISOString();

/** A chart of what a ledger shows. */
export async function chartOfLedger(
  title: string,
  body: LedgerBody,
  sources: Sources,
  setting = settingOfLedger(body),
): Promise<Block> {
  const [answer, tape] = await Promise.all([sources.columns(columnsBodyOf(setting)), sources.tape(setting.tape)]);
  const value = tape.kind === 'series' ? (tape.valueName ?? 'value') : 'close';
  return chartOf(title, setting, panelsOfLedger(body, factsOf(answer), value), sources);
}

/** What a page begins with that is about what was looked at: how it went in words, a chart, and where it stands. */
export async function blocksInView(
  title: string,
  body: LedgerBody,
  stretch: { from?: string; to?: string },
  sources: Sources,
): Promise<Block[]> {
  const { from, to, ...whole } = settingOfLedger(body);
  const setting = { ...whole, from: stretch.from ?? from, to: stretch.to ?? to };
  return [
    await draftOf(setting, sources),
    await chartOfLedger(title, body, sources, setting),
    await tableOf(setting, 'standing', sources),
  ];
}

export async function chartOf(title: string, setting: Setting, panels: Panel[], sources: Sources): Promise<Block> {
  const chart: Chart = {
    ...{ id: newId(), kind: 'chart', title: title.slice(0, 200), setting, panels },
    ...{ oneScale: false, follows: true, kept: null },
  };
  return withToday(chart, sources, now());
}

export const draftOf = (setting: Setting, sources: Sources): Promise<Block> =>
  withToday(
    { id: newId(), kind: 'paragraph', text: '', setting, isDrafted: true, follows: true, figures: [], origin: null },
    sources,
    now(),
  );

export const tableOf = (
  setting: Setting,
  shows: 'standing' | 'rows',
  sources: Sources,
  columns: string[] = [],
): Promise<Block> =>
  withToday(
    {
      ...{ id: newId(), kind: 'table', title: '', setting, shows, columns },
      ...{ count: shows === 'rows' ? 10 : 5, follows: true, told: null },
    },
    sources,
    now(),
  );

export const checkedOf = (setting: Setting, column: string, sources: Sources): Promise<Block> =>
  withToday({ id: newId(), kind: 'checked', setting, column, count: 5, follows: true, told: null }, sources, now());

export const paragraphOf = (setting: Setting | null): Paragraph => ({
  ...{ id: newId(), kind: 'paragraph', text: '', setting, isDrafted: false, follows: true, figures: [], origin: null },
});

/** Figures that another page has made, as a table. Of very many rows the first. */
export const givenOf = (title: string, { head, rows }: Pick<FigureTable, 'head' | 'rows'>, source: string): Block => ({
  ...{
    id: newId(),
    kind: 'given',
    title: title.slice(0, 200),
    head: head.slice(0, 60).map((name) => name.slice(0, 200)),
  },
  rows: rows.slice(0, MOST_GIVEN_ROWS).map((row) => row.slice(0, 60).map((cell) => cell ?? null)),
  source:
    `${source}${rows.length > MOST_GIVEN_ROWS ? `; the first ${MOST_GIVEN_ROWS} of ${rows.length} rows` : ''}`.slice(
      0,
      500,
    ),
});
const MOST_GIVEN_ROWS = 60;

export const verdictOf = (question: string, text: string, figures: string, source: string): Block => ({
  ...{ id: newId(), kind: 'verdict', question: question.slice(0, 200), text: text.slice(0, 1000) },
  ...{ figures: figures.slice(0, 1000), source: source.slice(0, 500) },
});

/** A page with nothing on it yet. */
export const emptyPage = (day: string): HandoverBody => ({ reader: '', author: '', day, blocks: [], changes: [] });

/** What a block is called in a list of them. */
export function blockTitle(block: Block): string {
  switch (block.kind) {
    case 'paragraph':
      return block.text.replace(/^# /, '').slice(0, 60) || 'an empty paragraph';
    case 'chart':
      return `chart: ${block.title || block.setting.tape}`;
    case 'table':
      return `table: ${block.title || (block.shows === 'rows' ? 'last rows' : 'latest values')}`;
    case 'given':
      return `table: ${block.title}`;
    case 'picture':
      return `picture: ${block.title}`;
    case 'verdict':
      return block.text.slice(0, 60);
    case 'checked':
      return `checked: ${block.column}`;
    case 'divider':
      return 'a rule';
  }
}
