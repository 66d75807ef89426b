import { dashOf } from '$lib/chart/inks';
import { momentText } from '$lib/chart/turns';
import { rowsInView } from '$lib/chart/viewWindow';
import { entriesOf } from './ledgerEdits';
import { splitEntry } from './laneModel';
import type { LedgerSession } from './ledgerSession.svelte';

const WIDTH = 1200;
const HEAD = 64;
const LANE = 300;
const SMALL_LANE = 150;
const AXIS = 64;
const LINE = 18;

const escaped = (text: string): string =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');

/**
 * The lanes in view as one SVG document: title, plots with their scales, a line for each definition, and the source. The
 * plots are those of the page, redrawn at this size by its own canvases, so a picture shows what is seen.
 */
export function pictureAsSvg(session: LedgerSession): string {
  const style = getComputedStyle(document.documentElement);
  const colour = (name: string) => style.getPropertyValue(name).trim();
  const plots = [...document.querySelectorAll<HTMLElement>('.lane .plot')];
  const parts: string[] = [];
  let y = HEAD;
  plots.forEach((plot, index) => {
    const canvas = plot.querySelector('canvas')!;
    const height = index === 0 ? LANE : SMALL_LANE;
    const scale = height / plot.clientHeight;
    parts.push(
      `<image x="20" y="${y}" width="${WIDTH - 40 - AXIS}" height="${height}" preserveAspectRatio="none" href="${canvas.toDataURL('image/png')}"/>`,
    );
    for (const tick of plot.querySelectorAll<SVGTextElement>('.axis .tick text')) {
      const at = /translate\([^,]*,([^)]*)\)/.exec(tick.parentElement!.getAttribute('transform') ?? '')?.[1] ?? '0';
      parts.push(
        `<text x="${WIDTH - 20 - AXIS + 6}" y="${y + Number(at) * scale + 4}">${escaped(tick.textContent ?? '')}</text>`,
      );
    }
    for (const turn of plot.querySelectorAll<HTMLElement>('.turn')) {
      const x = 20 + (turn.offsetLeft / plot.querySelector<HTMLElement>('.picture')!.clientWidth) * (WIDTH - 40 - AXIS);
      parts.push(`<text class="quiet" x="${x + 5}" y="${y + 14}">${escaped(turn.textContent ?? '')}</text>`);
    }
    parts.push(`<line x1="20" x2="${WIDTH - 20}" y1="${y + height}" y2="${y + height}" stroke="${colour('--rule')}"/>`);
    y += height + 6;
  });
  for (const entry of entriesOf(session.body)) {
    const result = session.results.get(entry.id);
    if (entry.hidden || result?.state !== 'drawn') continue;
    const { name, formula } = splitEntry(entry.text);
    y += LINE;
    parts.push(
      `<line x1="20" x2="44" y1="${y - 4}" y2="${y - 4}" stroke="${colour(`--ink-${entry.ink}`)}" stroke-width="2.5" stroke-dasharray="${dashOf(entry).join(' ')}"/>`,
      `<text x="52" y="${y}"><tspan font-weight="600">${escaped(name)}</tspan> = ${escaped(formula)}  <tspan class="quiet">${escaped(result.phrase)}</tspan></text>`,
    );
  }
  const [from, to] = rowsInView(session.view, session.rows);
  const { time } = session.bars!;
  const span = `${momentText(time[from], session.calendar, true)} to ${momentText(time[to - 1], session.calendar, true)}`;
  y += LINE + 8;
  parts.push(
    `<text class="quiet" x="20" y="${y}">${escaped(`Source: tape ${session.body.tape}, bars of ${session.body.rule}, ${span} (${session.tape.zone}). Made with Jaunty Ledger.`)}</text>`,
  );
  const height = y + 20;
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${height}" viewBox="0 0 ${WIDTH} ${height}">
<style>text{font:14px Georgia,serif;fill:${colour('--ink')}}.quiet{fill:${colour('--quiet')};font-style:italic}.title{font-size:22px;font-weight:600}</style>
<rect width="100%" height="100%" fill="${colour('--paper')}"/>
<text class="title" x="20" y="34">${escaped(session.title)}</text>
<text class="quiet" x="20" y="54">${escaped(`${session.body.tape} as bars of ${session.body.rule}`)}</text>
${parts.join('\n')}
</svg>`;
}

/** The same as pixels, twice as many as units. */
export async function svgAsPng(svg: string): Promise<Blob> {
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
  await image.decode();
  const canvas = document.createElement('canvas');
  canvas.width = image.width * 2;
  canvas.height = image.height * 2;
  canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
  return new Promise((done, failed) =>
    canvas.toBlob((blob) => (blob ? done(blob) : failed(new Error('the picture could not be made'))), 'image/png'),
  );
}
