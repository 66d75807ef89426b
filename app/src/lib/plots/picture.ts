import { splitEntry } from '@jaunty-ledger/core';
import { dashOf, readInks, type Inks } from '$lib/chart/inks';
import { priceScale, readableTicks, type PriceScale } from '$lib/chart/priceScale';
import { drawRules } from '$lib/chart/ruleLayer';
import { SvgPen } from '$lib/chart/svgPen';
import { momentText, ticksInView, type CalendarTick } from '$lib/chart/calendarTicks';
import { rowsInView } from '$lib/chart/viewWindow';
import { escaped } from '$lib/components/markup';
import type { LedgerLane } from '$lib/api/ledgers';
import { drawLane } from './drawLane';
import { axisText } from './axisText';
import { entryModels, rowsShort } from './laneModel';
import { laneScale, lanesOfOneScale } from './laneScale';
import { notesInView } from './notesInView';
import type { PlottedPage } from './plottedPage';

const WIDTH = 1200;
const EDGE = 20;
const HEAD = 64;
const LANE = 300;
const SMALL_LANE = 150;
/** Kept free above the topmost lane's values, for the texts of its calendarTicks. */
const TURNS = 16;
const AXIS = 64;
const PLOT = WIDTH - 2 * EDGE - AXIS;
const LINE = 18;

/** A lane of a picture as elements of an SVG: what the page draws of it, as lines, with its figures. */
function laneAsSvg(
  { view, results, notes, lanes }: PlottedPage,
  lane: LedgerLane,
  calendarTicks: readonly CalendarTick[],
  { inks, top, height, isTop }: { inks: Inks; top: number; height: number; isTop: boolean },
): string {
  const { bars, window } = view;
  const inView = rowsInView(window, view.viewRows);
  const models = entryModels(lane, results.shown);
  const shown = models.filter(({ entry, columns }) => !entry.hidden && columns.length > 0);
  const shared = lanesOfOneScale(lanes, lane).map((one) => ({ lane: one, entries: entryModels(one, results.shown) }));
  const scale = laneScale(lane, bars!, models, ...inView, shared);
  const headPx = isTop ? TURNS : 0;
  const y = priceScale(scale.extent, height, { ...scale.options, headPx });
  const second = priceScale(scale.second, height, { headPx });
  const pen = new SvgPen();
  const surface = { pen, view: window, y, widthPx: PLOT, heightPx: height };
  const ticks = scale.extent ? readableTicks(y, height) : [];
  drawRules(surface, ticks, calendarTicks, inks);
  const short = shown.map((model) => rowsShort(model)).filter((rows) => rows > inView[0]);
  drawLane({
    surface,
    second,
    inks,
    lane,
    bars: bars!,
    isSingle: view.isSingle,
    shown,
    scale,
    rowsShort: Math.max(0, ...short),
    inView,
  });

  const texts: string[] = [];
  const figures = (of: PriceScale, at: number[], x: number, style: string, text: (value: number) => string) => {
    for (const tick of at) texts.push(`<text ${style} x="${x}" y="${of(tick) + 4}">${escaped(text(tick))}</text>`);
  };
  const plain = axisText(scale.unit, ticks, lane.decimals);
  figures(y, ticks, PLOT + 6, '', (tick) => `${lane.prefix}${plain(tick)}${lane.unit && ` ${lane.unit}`}`);
  const ticks2 = scale.second ? readableTicks(second, height) : [];
  figures(second, ticks2, 4, 'class="quiet"', axisText('number', ticks2));
  if (isTop) {
    for (const { x, text, isLeft } of calendarTicks) {
      const place = isLeft ? `x="${x - 5}" text-anchor="end"` : `x="${x + 5}"`;
      if (text) texts.push(`<text class="quiet" ${place} y="14">${escaped(text)}</text>`);
    }
    for (const { note, x } of notesInView(notes, bars!.time, window, PLOT)) {
      const style = x > PLOT * 0.7 ? `x="${x - 5}" text-anchor="end"` : `x="${x + 5}"`;
      texts.push(
        `<line x1="${x}" x2="${x}" y1="22" y2="${height}" stroke="${inks.flag}"/>`,
        `<text class="note" ${style} y="34">${escaped(note.text)}</text>`,
      );
    }
  }
  return `<g transform="translate(${EDGE} ${top})"><svg width="${PLOT}" height="${height}">
${pen.elements.join('\n')}
</svg>
${texts.join('\n')}
<line x2="${PLOT + AXIS}" y1="${height}" y2="${height}" stroke="${inks.rule}"/></g>`;
}

/** How the price is drawn, as a mark of the legend: an open and a filled bar, or a line. */
function priceKey({ bars }: LedgerLane, isSingle: boolean, inks: Inks, y: number): string {
  if (bars !== 'candles' || isSingle)
    return `<line x1="20" x2="44" y1="${y - 4}" y2="${y - 4}" stroke="${inks.price}" stroke-width="1.6"/>`;
  return `<rect x="24.5" y="${y - 10.5}" width="5" height="10" fill="none" stroke="${inks.rising}"/><rect x="34" y="${y - 11}" width="6" height="11" fill="${inks.falling}"/>`;
}

/** What the price is of, in words. */
function priceText({ view }: PlottedPage, { bars }: LedgerLane): string {
  const { tape, rule } = view.source;
  if (view.isSingle) return `values of ${tape}`;
  return bars === 'candles'
    ? `prices of ${tape} in bars of ${rule}: open where they rise, filled where they fall`
    : `closing prices of ${tape} in bars of ${rule}`;
}

/** The lanes in view as one SVG document: title, plots with their scales, a line for each definition, and the source. */
export function pictureAsSvg(page: PlottedPage): string {
  const { title, view, results, lanes } = page;
  const style = getComputedStyle(document.documentElement);
  const colour = (name: string) => style.getPropertyValue(name).trim();
  const inks = readInks(document.documentElement);
  const calendarTicks = ticksInView(view.window, view.times, view.days, view.calendar, PLOT, view.precision);
  const parts: string[] = [];
  let y = HEAD;
  for (const lane of lanes.filter(({ collapsed }) => !collapsed)) {
    const isTop = y === HEAD;
    const height = isTop ? LANE : SMALL_LANE;
    parts.push(laneAsSvg(page, lane, calendarTicks, { inks, top: y, height, isTop }));
    y += height + 6;
  }
  const price = lanes.find(({ base, collapsed }) => base === 'price' && !collapsed);
  if (price) {
    y += LINE;
    parts.push(
      priceKey(price, view.isSingle, inks, y),
      `<text x="52" y="${y}">${escaped(priceText(page, price))}</text>`,
    );
  }
  for (const entry of lanes.flatMap((lane) => lane.entries)) {
    const result = results.shown.get(entry.id);
    if (entry.hidden || result?.state !== 'drawn') continue;
    const { name, formula } = splitEntry(entry.text);
    y += LINE;
    parts.push(
      `<line x1="20" x2="44" y1="${y - 4}" y2="${y - 4}" stroke="${colour(`--ink-${entry.ink}`)}" stroke-width="2.5" stroke-dasharray="${dashOf(entry).join(' ')}"/>`,
      `<text x="52" y="${y}"><tspan font-weight="600">${escaped(name)}</tspan>${entry.label && ` ${escaped(entry.label)}`} = ${escaped(formula)}  <tspan class="quiet">${escaped(result.phrase)}</tspan></text>`,
    );
  }
  const [from, to] = rowsInView(view.window, view.rows);
  const { time } = view.bars!;
  const { tape, rule } = view.source;
  const span = `${momentText(time[from], view.calendar, view.precision)} to ${momentText(time[to - 1], view.calendar, view.precision)}`;
  y += LINE + 8;
  parts.push(
    `<text class="quiet" x="20" y="${y}">${escaped(`Source: tape ${tape}, bars of ${rule}, ${span} (${view.tape.zone}). Made with Jaunty Ledger.`)}</text>`,
  );
  const height = y + 20;
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${height}" viewBox="0 0 ${WIDTH} ${height}">
<style>text{font:14px Georgia,serif;fill:${colour('--ink')}}.quiet{fill:${colour('--quiet')};font-style:italic}.title{font-size:22px;font-weight:600}.note{fill:${inks.flag};font-style:italic}</style>
<rect width="100%" height="100%" fill="${colour('--paper')}"/>
<text class="title" x="20" y="34">${escaped(title)}</text>
<text class="quiet" x="20" y="54">${escaped(`${tape} as bars of ${rule}`)}</text>
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
