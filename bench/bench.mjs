import { writeFileSync } from 'node:fs';
import { cpus, totalmem } from 'node:os';
import { join } from 'node:path';
import { root } from '../scripts/prepare.mjs';
import { examineRows } from './examine.mjs';
import { compareRows } from './compare.mjs';
import { barRows } from './bars.mjs';
import { importRows } from './imports.mjs';
import { kernelRows, lengthRows, longerRows } from './kernels.mjs';
import { pageRows } from './pages.mjs';
import { projectRows } from './project.mjs';

/** Runs every measurement and writes them down with the machine they were made on. */
export async function bench() {
  // the loops go first: what the others leave behind in the memory of this process would slow them by half
  const { rows: kernels, meanInC } = kernelRows();
  const lengths = lengthRows();
  const longer = longerRows();
  const cutting = barRows();
  const examining = examineRows();
  const projecting = projectRows();
  const comparing = compareRows();
  const pages = await pageRows();
  const sections = [
    ['Taking records in', await importRows()],
    ['The ledger page, headless Chromium, 1280x800', pages.ledger],
    ['Examining one column', [...examining, ...pages.examined]],
    ['Projecting', projecting],
    ['Comparing', [...comparing, ...pages.compared]],
    ['Handing over', pages.handed],
    ['Live tapes, headless Chromium', pages.live],
    ['Cutting bars', cutting],
    ['Functions over 10 million rows, window 50', kernels],
    ['The same at other lengths', lengths],
    ['Longer functions, one core', longer],
  ];
  const [{ model }] = cpus();
  const machine = `${model}, ${cpus().length} cores, ${Math.round(totalmem() / 2 ** 30)} GiB, Node ${process.version}`;
  const tables = sections.map(([title, rows]) => `## ${title}\n\n${table(rows)}`);
  const text = `# Performance\n\nWritten by \`npm run bench\`. Machine: ${machine}. Machines are noisy: compare figures of one run with each\nother, not with those of another.${pace(meanInC)}\n\n${tables.join('\n\n')}\n`;
  writeFileSync(join(root, 'docs', 'performance.md'), text);
  console.log(text);
}

/** Milliseconds that a mean over 10 million rows takes in plain C on the machine that the aims were set on. */
const AIMED_AT = 38;

/** How quick the machine was in this run: figures a second are to be read by it. */
function pace(meanInC) {
  if (meanInC === undefined) return '';
  const [took, share] = [meanInC.toFixed(0), (meanInC / AIMED_AT).toFixed(1)];
  return ` In this run a mean over 10 million rows took ${took} ms in plain C;\nthe aims were set on a machine where it takes ${AIMED_AT} ms, ${share} times as quick as this one.`;
}

/** A table in Markdown; each row is [what, figure, beside it]. */
function table(rows) {
  const lines = [['what', 'measured', 'beside it'], ['---', '---:', '---'], ...rows];
  return lines.map((cells) => `| ${cells.join(' | ')} |`).join('\n');
}
