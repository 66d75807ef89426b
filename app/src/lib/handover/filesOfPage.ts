import { strToU8, zipSync } from 'fflate';
import type { Block, HandoverBody } from '$lib/api/handovers';
import { csvText } from '$lib/pages/figureFiles';
import { chartFigures, fileName, footnotesOf, givenRows, lineName, originText, toldTableRows } from './blockHtml';
import { chartSvg, drawnLines } from './chartSvg';
import { appendixOf, bylineText } from './documentHtml';
import { standalone } from './standaloneSvg';
import { withFigures } from './figures';

/* A page as Markdown with its pictures as SVG and its figures as CSV, in a zip. */

/** Text that Markdown takes as it is. */
const plain = (text: string): string => text.replaceAll(/([\\`*_[\]<>#|])/g, '\\$1');

const tableText = (head: readonly string[], rows: readonly (readonly unknown[])[]): string => {
  const line = (cells: readonly unknown[]) => `| ${cells.map((cell) => plain(String(cell ?? ''))).join(' | ')} |`;
  return [line(head), `|${head.map(() => ' --- |').join('')}`, ...rows.map(line)].join('\n');
};

function blockText(block: Block, place: number, files: Record<string, string>): string {
  const name = (ending: string) => {
    const title = 'title' in block ? block.title : '';
    return `${String(place + 1).padStart(2, '0')}_${fileName(title)}.${ending}`;
  };
  switch (block.kind) {
    case 'paragraph':
      return withFigures(
        block.text,
        block.figures,
        (text) => (text.startsWith('# ') ? `## ${plain(text.slice(2))}` : plain(text)),
        (says, figure) => (figure && !figure.problem ? figure.text : `~~${plain(figure?.text || says)}~~`),
      );
    case 'chart': {
      const figures = chartFigures(block);
      if (!figures || !block.kept) return '';
      files[name('svg')] = standalone(chartSvg(block));
      files[name('csv')] = csvText(figures);
      const names = block.panels.flatMap((panel) => drawnLines(panel, block.kept!).map(lineName));
      const notes = footnotesOf(block, block.kept).map(plain).join(' ');
      return `![${plain(block.title || names.join(', '))}](${name('svg')})\n\n*${plain(`${names.join(', ')}. ${notes} ${originText(block.kept.origin)}`)}* [Figures](${name('csv')})`;
    }
    case 'table': {
      const { head, rows } = toldTableRows(block);
      if (!block.told) return '';
      files[name('csv')] = csvText(block.told);
      return `${block.title ? `**${plain(block.title)}**\n\n` : ''}${tableText(head, rows)}\n\n*${plain(originText(block.told.origin))}*`;
    }
    case 'given':
      files[name('csv')] = csvText(block);
      return `${block.title ? `**${plain(block.title)}**\n\n` : ''}${tableText(block.head, givenRows(block))}\n\n*${plain(block.source)}*`;
    case 'picture':
      files[name('svg')] = block.svg;
      return `![${plain(block.title)}](${name('svg')})\n\n*${plain(block.source)}*`;
    case 'verdict':
      return `**${plain(block.question)}** ${plain(block.text)} *${plain(block.figures)}*`;
    case 'checked': {
      if (!block.told) return '';
      files[name('csv')] = csvText({
        head: ['time', block.column],
        rows: block.told.time.map((time, at) => [time, block.told!.values[at]]),
      });
      return `**Checked**: the last rows of ${plain(block.column)} are in [a file](${name('csv')}).`;
    }
    case 'divider':
      return '---';
  }
}

/** All files of a page by their names: `page.md`, and what it shows. */
export function filesOfPage(title: string, body: HandoverBody): Record<string, string> {
  const files: Record<string, string> = {};
  const { definitions, assumptions } = appendixOf(body);
  const notes = [...definitions, ...assumptions].map((text) => `- ${plain(text)}`);
  const parts = [
    `# ${plain(title)}`,
    plain(bylineText(body)),
    ...body.blocks.map((block, place) => blockText(block, place, files)),
    ...(notes.length > 0 ? ['## Definitions and assumptions', notes.join('\n')] : []),
  ];
  files['page.md'] = `${parts.filter(Boolean).join('\n\n')}\n`;
  return files;
}

export const zipOf = (files: Record<string, string>): Uint8Array<ArrayBuffer> =>
  zipSync(
    Object.fromEntries(Object.entries(files).map(([name, text]) => [name, strToU8(text)])),
  ) as Uint8Array<ArrayBuffer>;
