import { instantOf, makeCalendar } from '@jaunty-ledger/core';
import type { Chart, ChartLine, Kept, LineFacts, Panel } from '$lib/api/handovers';
import { dayStarts, ticksInView } from '$lib/chart/calendarTicks';
import { drawColumns } from '$lib/chart/columnLayer';
import { asRange, extentOf } from '$lib/chart/extent';
import { DASHES, INK_COUNT, type Inks } from '$lib/chart/inks';
import type { Surface } from '$lib/chart/layers';
import { drawArea, drawLine } from '$lib/chart/lineLayer';
import { priceScale, readableTicks } from '$lib/chart/priceScale';
import { drawRules } from '$lib/chart/ruleLayer';
import { SvgPen } from '$lib/chart/svgPen';
import { wholeSpan, xOfRow } from '$lib/chart/viewWindow';
import { escaped } from '$lib/components/markup';
import { axisText } from '$lib/plots/axisText';
import { own } from './own';

/* A chart of a page that is handed over, as an SVG: drawn from what is kept in it, without a browser. */

const CHART_PX = 600;
const AXIS_PX = 92;
const PLOT_PX = CHART_PX - AXIS_PX;
const PANEL_PX = 190;
const SMALL_PANEL_PX = 96;
const FOOT_PX = 20;
const GAP_PX = 10;

/** The inks by their names: whoever shows the picture has their colours in its style. */
const INKS: Inks = {
  ink: 'var(--ink)',
  quiet: 'var(--quiet)',
  rule: 'var(--rule)',
  faintRule: 'var(--rule-faint)',
  price: 'var(--price)',
  narrow: 'var(--narrow)',
  rising: 'var(--rising)',
  falling: 'var(--falling)',
  paper: 'var(--paper)',
  volume: 'var(--volume)',
  flag: 'var(--wrong)',
  entries: Array.from({ length: INK_COUNT }, (_, at) => `var(--ink-${at})`),
};

/** How a line is drawn: what is pale stands back behind what was smoothed. */
export function lineStyle({ as, ink }: Pick<ChartLine, 'as' | 'ink'>) {
  if (as === 'pale') return { colour: 'var(--narrow)', widthPx: 1.2, dash: [] as readonly number[] };
  if (as === 'columns') return { colour: 'var(--volume)', widthPx: 1, dash: [] as readonly number[] };
  return { colour: `var(--ink-${ink})`, widthPx: as === 'strong' ? 2.4 : 1.6, dash: DASHES[ink] };
}

/** Lines of a panel that are drawn, the pale ones first. */
export const drawnLines = ({ lines }: Panel, kept: Kept): ChartLine[] => {
  const back = { columns: 0, pale: 1, plain: 2, strong: 3, out: 4 };
  return lines
    .filter(({ as, column }) => as !== 'out' && own(kept.columns, column))
    .sort((a, b) => back[a.as] - back[b.as]);
};

const columnOf = (kept: Kept, name: string): Float64Array =>
  Float64Array.from(kept.columns[name], (value) => value ?? NaN);

/** Values as a panel shows them: as they are, or as 100 at the first row that has one. */
function shownValues({ scale }: Panel, kept: Kept, name: string): Float64Array {
  const values = columnOf(kept, name);
  if (scale !== 'rebased') return values;
  const first = values.find((value) => !Number.isNaN(value));
  return first === undefined || !(first > 0) ? new Float64Array(0) : values.map((value) => (100 * value) / first);
}

function extentOfAll(columns: readonly Float64Array[]): [number, number] | undefined {
  const ends = columns.flatMap((values) => extentOf(asRange(values), 0, values.length) ?? []);
  return ends.length > 0 ? [Math.min(...ends), Math.max(...ends)] : undefined;
}

/** The unit that figures of a panel are written in: of its first line, or a plain number where it is rebased. */
function unitOf(panel: Panel, facts: readonly LineFacts[]): LineFacts['unit'] {
  if (panel.scale === 'rebased') return 'number';
  const first = panel.lines.find(({ as }) => as !== 'out') ?? panel.lines[0];
  return facts.find(({ name }) => name === first?.column)?.unit ?? 'number';
}

/** The picture; empty of a chart that has no figures yet. */
export function chartSvg({ title, panels, oneScale, kept }: Chart): string {
  if (!kept || kept.time.length === 0) return '';
  const time = Float64Array.from(kept.time, instantOf);
  const calendar = makeCalendar({
    zone: kept.origin.zone,
    ...(kept.origin.precision === 'period' && { undated: true }),
  });
  const view = wholeSpan(time.length);
  const ticks = ticksInView(view, time, dayStarts(time, calendar), calendar, PLOT_PX, kept.origin.precision);
  const shown = panels.map((panel) => {
    const lines = drawnLines(panel, kept).map((line) => ({ line, values: shownValues(panel, kept, line.column) }));
    return { panel, lines, unit: unitOf(panel, kept.facts), extent: extentOfAll(lines.map(({ values }) => values)) };
  });
  const prices = shown.filter(({ unit, panel }) => unit === 'price' && panel.scale !== 'rebased');
  const common = oneScale ? united(prices.flatMap(({ extent }) => (extent ? [extent] : []))) : undefined;
  let top = 0;
  const parts = shown.map((one, at) => {
    const heightPx = at === 0 ? PANEL_PX : SMALL_PANEL_PX;
    const extent = common && prices.includes(one) ? common : one.extent;
    const part = panelSvg({ ...one, extent }, { kept, view, ticks, heightPx });
    const placed = `<g transform="translate(0 ${top})">${part}</g>`;
    top += heightPx + GAP_PX;
    return placed;
  });
  const foot = ticks
    .filter(({ text }) => text !== '')
    .map(({ x, text, isLeft }) =>
      isLeft
        ? `<text class="when" x="${x - 4}" y="${top + 8}" text-anchor="end">${escaped(text)}</text>`
        : `<text class="when" x="${x + 3}" y="${top + 8}">${escaped(text)}</text>`,
    );
  const height = top + FOOT_PX;
  const names = shown.flatMap(({ lines }) => lines.map(({ line }) => line.label || line.column));
  const label = `${title || 'Chart'}: ${names.join(', ')} of ${kept.origin.tape}, ${kept.time.length} points`;
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${CHART_PX} ${height}" width="${CHART_PX}" height="${height}" role="img" aria-label="${escaped(label)}" font-family="Georgia, serif" font-size="12" fill="var(--ink)">${parts.join('')}<g fill="var(--quiet)" font-style="italic">${foot.join('')}</g></svg>`;
}

const united = (extents: readonly [number, number][]): [number, number] | undefined =>
  extents.length > 0
    ? [Math.min(...extents.map(([low]) => low)), Math.max(...extents.map(([, high]) => high))]
    : undefined;

interface Shown {
  panel: Panel;
  lines: readonly { line: ChartLine; values: Float64Array }[];
  unit: LineFacts['unit'];
  extent: [number, number] | undefined;
}
interface Place {
  kept: Kept;
  view: Surface['view'];
  ticks: ReturnType<typeof ticksInView>;
  heightPx: number;
}

function panelSvg({ panel, lines, unit, extent }: Shown, { kept, view, ticks, heightPx }: Place): string {
  const y = priceScale(extent, heightPx, {
    fromZero: panel.scale === 'zero' || lines.some(({ line }) => line.as === 'columns'),
    log: panel.scale === 'log',
  });
  const figures = extent ? readableTicks(y, heightPx) : [];
  const pen = new SvgPen();
  const surface: Surface = { pen, view, y, widthPx: PLOT_PX, heightPx };
  drawRules(surface, figures, ticks, INKS);
  for (const { lower, upper } of fansOf(lines, kept.facts)) drawArea(surface, upper, lower, FAN);
  for (const { line, values } of lines) {
    const style = lineStyle(line);
    if (line.as === 'columns') drawColumns(surface, values, style);
    else drawLine(surface, values, style);
  }
  const written = axisText(unit, figures);
  const suffix = panel.unit || (unit === 'price' ? kept.origin.unit : '');
  const texts = figures.map((tick, at) => {
    // the unit stands once, at the topmost figure
    const isTop = at === figures.length - 1;
    return `<text x="${PLOT_PX + 6}" y="${(y(tick) + 4).toFixed(1)}">${escaped(panel.prefix)}${escaped(written(tick))}${isTop && suffix ? ` ${escaped(suffix)}` : ''}</text>`;
  });
  return `${pen.elements.join('')}${cameTo(kept, view, heightPx)}${texts.join('')}<line x2="${PLOT_PX}" y1="${heightPx}" y2="${heightPx}" stroke="var(--rule)"/>`;
}

/** The ground between both ends of a projection. */
const FAN = { colour: 'var(--narrow)', strength: 2 };

/** Ends of the projections among lines that are drawn. */
function fansOf(lines: Shown['lines'], facts: readonly LineFacts[]): { lower: Float64Array; upper: Float64Array }[] {
  const projections = facts.filter(({ role }) => role === 'projection').map(({ name }) => name);
  return projections.flatMap((name) => {
    const [lower, upper] = ['low', 'high'].map(
      (end) => lines.find(({ line }) => line.column === `${name}.${end}`)?.values,
    );
    return lower && upper ? [{ lower, upper }] : [];
  });
}

/** A rule where records end and what is projected begins. */
function cameTo({ origin, time }: Kept, view: Surface['view'], heightPx: number): string {
  const last = time.lastIndexOf(origin.to);
  if (last < 0 || last >= time.length - 1) return '';
  const x = xOfRow(view, last + 0.5, PLOT_PX).toFixed(1);
  return `<line x1="${x}" x2="${x}" y1="0" y2="${heightPx}" stroke="var(--ink)" stroke-dasharray="2 3"/>`;
}
