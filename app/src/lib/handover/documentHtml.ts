import { splitEntry } from '@jaunty-ledger/core';
import appStyle from '../../app.css?raw';
import type { Block, HandoverBody } from '$lib/api/handovers';
import { escaped } from '$lib/components/markup';
import { drawnLines } from './chartSvg';
import { blockHtml, figuresHtml } from './blockHtml';
import { own } from './own';
import handedStyle from './handed.css?raw';

/* A page as one document of its own: no script, nothing from elsewhere, readable without the server. */

/** The inks of the day paper, from the one place where they are told. */
export const PAPER_INKS: string = /:root \{[^}]*\}/.exec(appStyle)![0].replace('color-scheme: light;', '');

/** Who the page is for, of what day, and by whom. */
export function bylineText({ reader, author, day }: HandoverBody): string {
  const parts = [day, reader && `for ${reader}`, author && `by ${author}`].filter(Boolean);
  return parts.length > 0 ? `${parts.join(', ')}.` : '';
}

/** The entry that a part or a member of a fan belongs to. */
const entryOf = (column: string): string => column.split(/[.[]/)[0];

/** What entries of a page are, each once, and what was assumed: for whoever wants to know. */
export function appendixOf({ blocks }: HandoverBody): { definitions: string[]; assumptions: string[] } {
  const ofCharts = blocks.flatMap((block) => {
    if (block.kind !== 'chart' || !block.kept) return [];
    const { kept } = block;
    const shown = new Set(block.panels.flatMap((panel) => drawnLines(panel, kept).map(({ column }) => column)));
    return kept.facts
      .filter(({ name }) => shown.has(name))
      .map(({ name, phrase, looksAhead }) => {
        const formula = own(kept.formulas, entryOf(name));
        return `${name}${formula ? ` = ${formula}` : ''}: ${phrase}${looksAhead ? '; it looks ahead' : ''}.`;
      });
  });
  const settings = blocks.flatMap((block) => ('setting' in block && block.setting ? [block.setting] : []));
  const assumptions = settings.flatMap(({ tape, bars, flagged }) => [
    `Bars of ${tape} are ${bars}; ${flagged ? 'records that checks have flagged are in them' : 'records that checks have flagged are left out'}.`,
  ]);
  // entries of words and tables that no chart has told of
  const told = new Set(ofCharts.map((text) => entryOf(/^[^\s:]+/.exec(text)![0])));
  const others = settings.flatMap(({ entries }) => entries.filter((text) => !told.has(splitEntry(text).name)));
  const definitions = [...ofCharts, ...others.map((text) => `${text}.`)];
  return { definitions: [...new Set(definitions)], assumptions: [...new Set(assumptions)] };
}

/** Definitions and assumptions, where there are any. */
export function appendixHtml(body: HandoverBody): string {
  const { definitions, assumptions } = appendixOf(body);
  if (definitions.length + assumptions.length === 0) return '';
  const list = (items: readonly string[]) => `<ul>${items.map((item) => `<li>${escaped(item)}</li>`).join('')}</ul>`;
  return `<section class="appendix"><h2>Definitions and assumptions</h2>${list([...definitions, ...assumptions])}</section>`;
}

const blockOf = (block: Block, at: number, blocks: readonly Block[]): string =>
  `<section class="block ${block.kind}">${blockHtml(block, blocks[at - 1])}${figuresHtml(block)}</section>`;

/** A text as a string of a style sheet. */
const cssText = (text: string): string =>
  `"${text.replaceAll(/[\\"<>\n\r]/g, (sign) => `\\${sign.codePointAt(0)!.toString(16)} `)}"`;

/** What print has on each page: a running title, and its number. */
export const pageStyle = (title: string): string =>
  `@page { margin: 20mm 18mm; @top-left { content: ${cssText(title)}; font: italic 9pt Georgia, serif; color: #645f51; } @bottom-right { content: counter(page) " of " counter(pages); font: 9pt Georgia, serif; color: #645f51; } }`;

/** The inner part of a page: title, byline, blocks, appendix. */
function sheetHtml(title: string, body: HandoverBody): string {
  const byline = bylineText(body);
  return `<h1>${escaped(title)}</h1>${byline ? `<p class="byline">${escaped(byline)}</p>` : ''}${body.blocks.map(blockOf).join('')}${appendixHtml(body)}`;
}

export function documentHtml(title: string, body: HandoverBody): string {
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${escaped(title)}</title>
<style>
${PAPER_INKS}
${handedStyle}
${pageStyle(title)}
body { margin: 0; background: var(--paper); }
.handed { max-width: 600px; margin: 0 auto; padding: 32px 16px 64px; }
</style>
</head>
<body>
<main class="handed">${sheetHtml(title, body)}</main>
</body>
</html>
`;
}
