import type { LedgerLane } from '$lib/api/ledgers';
import { drawCandles } from '$lib/chart/barLayer';
import { drawColumns } from '$lib/chart/columnLayer';
import { drawFlags } from '$lib/chart/flagLayer';
import { drawOpenBar } from '$lib/chart/openBarLayer';
import { drawHatch } from '$lib/chart/hatchLayer';
import { dashOf, memberStrength, type Inks } from '$lib/chart/inks';
import type { Surface } from '$lib/chart/layers';
import { drawArea, drawDots, drawLine, type LineStyle } from '$lib/chart/lineLayer';
import type { PriceScale } from '$lib/chart/priceScale';
import type { DrawnBars, DrawnColumn } from '$lib/compute/protocol';
import type { EntryModel } from './laneModel';
import { firstValue, shapeOf, type LaneScale } from './laneScale';

/** All that the picture of a lane is made of. */
interface LanePicture {
  surface: Surface;
  /** The scale of entries that have the second one. */
  second: PriceScale;
  inks: Inks;
  lane: LedgerLane;
  bars: DrawnBars;
  /** Whether each bar is one value: then candles would be dashes, and a line is drawn. */
  isSingle: boolean;
  shown: readonly EntryModel[];
  scale: LaneScale;
  /** Rows before the first value of the entry that starts last. */
  rowsShort: number;
  inView: readonly [number, number];
}

/** Draws a lane: what it stands on, its flags and hatch, then its entries, each over those before it. */
export function drawLane(picture: LanePicture): void {
  const { surface, inks, lane, bars, shown, rowsShort } = picture;
  drawOpenBar(surface, bars.complete, inks.quiet);
  drawBase(picture);
  if (lane.base === 'price') {
    const at = onSeries(picture, surface.y, bars.high, 0);
    drawFlags({ ...surface, y: at }, bars.time.length, bars.flaggedRow, bars.flaggedPrice, inks.flag);
  }
  drawHatch(surface, rowsShort, inks.rule);
  for (const model of shown) drawEntry(picture, model);
}

function drawBase(picture: LanePicture): void {
  const { surface, inks, lane, bars, isSingle } = picture;
  if (lane.base === 'volume') drawColumns(surface, bars.volume, { colour: inks.volume });
  if (lane.base !== 'price') return;
  const on = { ...surface, y: onSeries(picture, surface.y, bars.high, 0) };
  const style: LineStyle = { colour: inks.price, widthPx: 1.3, steps: lane.bars === 'steps' };
  if (lane.bars === 'candles' && !isSingle) drawCandles(on, bars, inks);
  else if (lane.bars === 'dots') drawDots(on, bars.close, style);
  else drawLine(on, bars.close, style);
}

/** Pixels of a series' values: on a lane in percent each series counts from its own first value in view. */
function onSeries({ scale, inView }: LanePicture, y: (value: number) => number, column: Float64Array, shift: number) {
  const base = firstValue(column, inView[0] - shift, inView[1] - shift);
  return (value: number) => y(scale.onScale(value, base));
}

function drawEntry(picture: LanePicture, { entry, columns, shift }: EntryModel): void {
  const { surface, second, inks } = picture;
  const scale = entry.second ? second : surface.y;
  const view = { ...surface.view, shift };
  const on = (column: DrawnColumn): Surface => ({
    ...surface,
    view,
    y: onSeries(picture, scale, column.values, shift),
  });
  const colour = inks.entries[entry.ink];
  const upper = columns.find(({ role }) => role === 'upper');
  const lower = columns.find(({ role }) => role === 'lower');
  if (upper && lower) drawArea(on(upper), upper.values, lower.values, { colour });
  const isFan = columns.some(({ member }) => member !== '');
  columns.forEach((column, index) => {
    const { values, part, role } = column;
    const strength = isFan ? memberStrength(index, columns.length) : part && index > 0 ? 0.75 : 1;
    const shape = shapeOf(entry.drawn, role);
    const style: LineStyle = {
      colour,
      widthPx: part && index > 0 ? Math.max(0.8, entry.width * 0.7) : entry.width,
      dash: dashOf(entry),
      strength,
      steps: shape === 'steps',
    };
    if (shape === 'columns') {
      drawColumns(on(column), values, { colour, strength: 0.7 * strength });
    } else if (shape === 'dots') drawDots(on(column), values, style);
    else {
      if (shape === 'area') drawArea(on(column), values, 0, { colour, strength: 1.4 });
      drawLine(on(column), values, style);
    }
  });
}
