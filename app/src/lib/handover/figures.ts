import type { Figure, LineFacts, Origin } from '$lib/api/handovers';
import { figureText } from '@jaunty-ledger/core';
import { lastRowOf, numbersOf, type ToldColumns } from './take';

/* Figures within words: `{last close}`, `{change 5 bars}`, or any formula within braces. */

/** What stands within braces, each once, in the order of the text. */
export const figuresIn = (text: string): string[] => [
  ...new Set([...text.matchAll(/\{([^{}]{1,300})\}/g)].map(([, says]) => says.trim()).filter(Boolean)),
];

/** What a figure asks for. A change is a share; anything else is a column, or a formula of its own. */
export function askedBy(says: string): { formula: string; isChange: boolean } {
  const [, rows] = /^change (\d{1,7})(?: (?:bars?|rows?|days?))?$/.exec(says) ?? [];
  if (rows) return { formula: `return(close, ${Number(rows)})`, isChange: true };
  return { formula: says.replace(/^last\s+/, ''), isChange: false };
}

/** The name that a figure's column has in a question. */
const entryName = (at: number): string => `figure_in_words_${at}`;

/** Entries that the figures of a text need beside those of its setting: a column that is there already needs none. */
export function entriesFor(says: readonly string[], there: readonly string[]): { at: number; text: string }[] {
  return says.flatMap((one, at) => {
    const { formula } = askedBy(one);
    // a part of a column, or a member of a fan, comes with it
    const [, name] = /^([A-Za-z_]\w*)(?:\.\w+|\[[^\]]+\])?$/.exec(formula) ?? [];
    return name !== undefined && there.includes(name) ? [] : [{ at, text: `${entryName(at)} = ${formula}` }];
  });
}

/** How figures are written within words. */
export const WRITTEN = { missing: 'missing' } as const;

const OF_PRICE = new Set(['close', 'open', 'high', 'low']);

/** What the figures of a text are, by an answer that has their columns. */
export function toldFigures(
  says: readonly string[],
  answer: ToldColumns,
  facts: readonly LineFacts[],
  { decimals, unit }: Pick<Origin, 'decimals' | 'unit'>,
  refused: ReadonlyMap<number, string>,
): Figure[] {
  const last = lastRowOf(answer);
  return says.map((one, at): Figure => {
    const problem = refused.get(at);
    if (problem !== undefined) return { says: one, text: '', problem };
    const { formula, isChange } = askedBy(one);
    const name = facts.some((fact) => fact.name === formula) ? formula : entryName(at);
    const fact = answer.entries.find((entry) => entry.name === name) ?? facts.find((entry) => entry.name === name);
    if (!fact) return { says: one, text: '', problem: 'There is no such column any more.' };
    const values = numbersOf(answer, name);
    // what a projection says stands at the last bar to come
    const value = fact.role === 'projection' ? (values.findLast((figure) => figure !== null) ?? null) : values[last];
    const text = figureText(value ?? null, fact.unit, decimals, {
      ...WRITTEN,
      isSigned: isChange || fact.unit === 'move',
    });
    const isPrice = OF_PRICE.has(formula) && unit !== '';
    return { says: one, text: isPrice ? `${text} ${unit}` : text, problem: '' };
  });
}

/** A text with its figures in their places. @param put  writes one; told what it is, or that it is not known yet */
export const withFigures = (
  text: string,
  figures: readonly Figure[],
  words: (text: string) => string,
  put: (says: string, figure: Figure | undefined) => string,
): string =>
  text
    .split(/(\{[^{}]{1,300}\})/)
    .map((part) => {
      if (!/^\{[^{}]{1,300}\}$/.test(part)) return words(part);
      const says = part.slice(1, -1).trim();
      return put(
        says,
        figures.find((one) => one.says === says),
      );
    })
    .join('');
