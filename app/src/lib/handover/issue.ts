import type { AskingBlock, Block, HandoverBody, Paragraph, Setting } from '$lib/api/handovers';
import { Refusal } from '$lib/api/problems';
import type { ColumnsBody } from '$lib/works/columns/work';
import { draftText } from './draftText';
import { own } from './own';
import { figureText } from '@jaunty-ledger/core';
import { entriesFor, figuresIn, toldFigures, WRITTEN } from './figures';
import {
  columnsBodyOf,
  factsOf,
  keptOf,
  originOf,
  toldCheckOf,
  toldTableOf,
  type TapeTold,
  type ToldColumns,
} from './take';

/* Blocks with the figures of today. What is kept in them is only replaced where new figures have come. */

/** Where figures come from: the server's interface, or a store at hand. */
export interface Sources {
  columns: (body: ColumnsBody) => Promise<ToldColumns>;
  tape: (name: string) => Promise<TapeTold>;
  /** What was found of a model on data held back, as a sentence; empty where it cannot be tried. */
  trust: (setting: Setting, projection: { entry: string; model: string; horizon: number }) => Promise<string>;
}

/** The same sources, asked each question once: the blocks of one act are of one moment, and most of them ask the same. */
export function askedOnce(sources: Sources): Sources {
  const known = new Map<string, Promise<unknown>>();
  const once = <T>(key: unknown, ask: () => Promise<T>): Promise<T> => {
    const text = JSON.stringify(key);
    if (!known.has(text)) known.set(text, ask());
    return known.get(text) as Promise<T>;
  };
  return {
    columns: (body) => once(['columns', body], () => sources.columns(body)),
    tape: (name) => once(['tape', name], () => sources.tape(name)),
    trust: (setting, projection) => once(['trust', setting, projection], () => sources.trust(setting, projection)),
  };
}

/**
 * Takes figures that were asked for one state of a block into its state now, so that nothing is lost that was changed meanwhile.
 * @returns nothing where it asks for something else since, or is gone
 */
export function withFiguresOf(now: Block | undefined, asked: AskingBlock, given: AskingBlock): Block | undefined {
  if (!now || !isAsking(now) || JSON.stringify(now.setting) !== JSON.stringify(asked.setting)) return undefined;
  if (now.kind === 'paragraph' && asked.kind === 'paragraph' && given.kind === 'paragraph') {
    const { text, figures, origin } = given;
    return now.text === asked.text ? { ...now, text, figures, origin } : undefined;
  }
  if (now.kind === 'chart' && given.kind === 'chart') return { ...now, kept: given.kept };
  if (now.kind === 'table' && asked.kind === 'table' && given.kind === 'table')
    return now.shows === asked.shows && now.count === asked.count ? { ...now, told: given.told } : undefined;
  if (now.kind === 'checked' && asked.kind === 'checked' && given.kind === 'checked')
    return now.column === asked.column && now.count === asked.count ? { ...now, told: given.told } : undefined;
  return undefined;
}

export const isAsking = (block: Block): block is AskingBlock =>
  block.kind === 'paragraph' || block.kind === 'chart' || block.kind === 'table' || block.kind === 'checked';

/**
 * A block with figures of today.
 * @throws {Refusal} where they cannot be had: its tape is gone, or its formulas do not hold any more
 */
export async function withToday(block: AskingBlock, sources: Sources, at: string): Promise<AskingBlock> {
  if (block.kind === 'paragraph') return block.setting ? paragraphToday(block, block.setting, sources, at) : block;
  const { setting } = block;
  const [answer, tape] = [await sources.columns(columnsBodyOf(setting)), await sources.tape(setting.tape)];
  switch (block.kind) {
    case 'chart': {
      const wanted = block.panels.flatMap(({ lines }) => lines.map(({ column }) => column));
      return { ...block, kept: keptOf(setting, answer, tape, wanted, at) };
    }
    case 'table':
      return { ...block, told: toldTableOf(block, answer, tape, at) };
    case 'checked':
      return { ...block, told: toldCheckOf(block, answer, tape, at) };
  }
}

/** `close`, `drift` and 30 of `projection(close, "drift", 30)`. */
function projectionIn(setting: Setting): { entry: string; model: string; horizon: number } | undefined {
  for (const text of setting.entries) {
    const [, entry, model, rows] = /=\s*projection\((.+),\s*"([^"]+)",\s*(\d+)\s*\)/.exec(text) ?? [];
    if (entry) return { entry, model, horizon: Number(rows) };
  }
  return undefined;
}

async function paragraphToday(block: Paragraph, setting: Setting, sources: Sources, at: string): Promise<Paragraph> {
  const tape = await sources.tape(setting.tape);
  let text = block.text;
  if (block.isDrafted) {
    const projection = projectionIn(setting);
    const trust = projection ? await sources.trust(setting, projection) : '';
    text = draftText(setting, await columnsOfAYear(setting, sources), tape, trust);
  }
  const says = figuresIn(text);
  // a formula that cannot be used is told of at its place, and does not keep the others from being worked out
  const refused = new Map<number, string>();
  for (;;) {
    const there = factNames(setting);
    const further = entriesFor(says, there).filter(({ at: place }) => !refused.has(place));
    try {
      const body = columnsBodyOf(
        setting,
        further.map((one) => one.text),
      );
      const answer = await sources.columns(body);
      const figures = toldFigures(
        says,
        answer,
        factsOf(answer),
        { decimals: tape.priceDecimals, unit: tape.unit },
        refused,
      );
      return { ...block, text, figures, origin: originOf(setting, answer, tape, at) };
    } catch (error) {
      const index = error instanceof Refusal ? (error.problem.entryIndex ?? -1) - setting.entries.length : -1;
      if (!(error instanceof Refusal) || index < 0 || index >= further.length) throw error;
      refused.set(further[index].at, shortened(error.problem.detail));
    }
  }
}

/** Columns of a stretch and of a year before it: a paragraph says since when, and how wild a year was. */
async function columnsOfAYear(setting: Setting, sources: Sources): Promise<ToldColumns> {
  const earlier = setting.from && new Date(Date.parse(setting.from) - YEAR_MS).toISOString();
  try {
    return await sources.columns(columnsBodyOf({ ...setting, from: earlier }));
  } catch (error) {
    // a year of short bars may be more than is taken
    if (!(error instanceof Refusal) || error.problem.code !== 'too-much-work' || !earlier) throw error;
    return sources.columns(columnsBodyOf(setting));
  }
}
const YEAR_MS = 365 * 86_400e3;

/** A reason of which a list of all names that there are is left out. */
const shortened = (detail: string): string => (detail.length > 280 ? `${detail.slice(0, 280)}…` : detail);

/** Columns that are surely there: a name of these needs no entry of its own. */
const factNames = ({ entries }: Setting): string[] => [
  ...['open', 'high', 'low', 'close', 'volume'],
  ...entries.map((text) => /^\s*([A-Za-z_]\w*)\s*=/.exec(text)?.[1] ?? '').filter(Boolean),
];

/** A block whose figures cannot be had any more: what it said stays, struck through. */
function withoutSource(block: AskingBlock, why: string): AskingBlock {
  if (block.kind !== 'paragraph') return block;
  return { ...block, figures: block.figures.map((figure) => ({ ...figure, problem: why })) };
}

/** Figures of a block by what they are of, as they are written. */
function figuresOf(block: Block): Map<string, string> {
  switch (block.kind) {
    case 'paragraph':
      return new Map(block.figures.map(({ says, text }) => [says, text]));
    case 'chart':
      return new Map(
        block.kept?.facts.map(({ name, unit }) => [
          name,
          figureText(
            block.kept!.columns[name].findLast((value) => value !== null) ?? null,
            unit,
            block.kept!.origin.decimals,
            WRITTEN,
          ),
        ]),
      );
    case 'table':
      return new Map(
        block.told?.rows.map(([name, now]) => [
          String(name),
          typeof now === 'number'
            ? figureText(now, own(block.told!.facts, String(name)) ?? 'number', block.told!.origin.decimals, WRITTEN)
            : String(now ?? 'missing'),
        ]),
      );
    case 'checked': {
      const { told, column } = block;
      if (!told) return new Map();
      return new Map([[column, figureText(told.value, told.unit, told.origin.decimals, WRITTEN)]]);
    }
    default:
      return new Map();
  }
}

/** What is otherwise in a block than before, a sentence each. */
function changesOf(before: Block, after: Block): string[] {
  const was = figuresOf(before);
  return [...figuresOf(after)].flatMap(([name, text]) => {
    const old = was.get(name);
    return old === undefined || old === text ? [] : [`${name}: ${old}, now ${text}`];
  });
}

/** The next issue of a page: figures of today in all blocks that follow, and what has changed. */
export async function nextIssue(body: HandoverBody, from: Sources, at: string): Promise<HandoverBody> {
  const sources = askedOnce(from);
  const changes: string[] = [];
  const blocks: Block[] = [];
  for (const [place, block] of body.blocks.entries()) {
    if (!isAsking(block) || !block.follows) {
      blocks.push(block);
      continue;
    }
    try {
      const now = await withToday(block, sources, at);
      changes.push(...changesOf(block, now));
      blocks.push(now);
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      const why = shortened(error.problem.detail);
      changes.push(`Block ${place + 1} stays as it was: ${why}`);
      blocks.push(withoutSource(block, why));
    }
  }
  const told = [...new Set(changes)].slice(0, 200);
  return {
    ...body,
    blocks,
    day: at.slice(0, 10),
    changes: told.length > 0 ? told : ['Nothing has changed since the issue before.'],
  };
}
