import type { Inks } from './inks';
import { crisp, drawUprights, NARROW_PX, type Surface } from './layers';
import { extentOf } from './extent';
import { pxPerRow, rowsInView, xOfRow } from './viewWindow';

interface CandleColumns {
  open: Float64Array;
  high: Float64Array;
  low: Float64Array;
  close: Float64Array;
}

/** Bars: a rising one open, in outline; a falling one filled; one without change a line across. */
export function drawCandles(surface: Surface, candles: CandleColumns, inks: Inks): void {
  const roomPx = pxPerRow(surface.view, surface.widthPx);
  if (roomPx < NARROW_PX) drawRanges(surface, candles, inks);
  else drawSingly(surface, candles, inks, roomPx);
}

/** Where bars have no room of their own: the range of all in each pixel column, pale, so that lines over it can be read. */
function drawRanges(surface: Surface, { high, low, close }: CandleColumns, inks: Inks): void {
  const { y } = surface;
  drawUprights(surface, close.length, { colour: inks.narrow }, (_x, from, to) => {
    const extent = extentOf({ low, high }, from, to);
    if (!extent) return undefined;
    const top = y(extent[1]);
    return [top, Math.max(y(extent[0]), top + 1)];
  });
}

function drawSingly(surface: Surface, { open, high, low, close }: CandleColumns, inks: Inks, roomPx: number): void {
  const { pen, view, y, widthPx } = surface;
  const body = Math.max(1, Math.min(15, Math.floor(roomPx * 0.66)) | 1); // odd, so that the wick stands in its middle
  const [from, to] = rowsInView(view, close.length);
  const eachThat = (falls: boolean, trace: (row: number, x: number, top: number, bottom: number) => void) => {
    for (let row = from; row < to; row++) {
      if (Number.isNaN(close[row]) || close[row] < open[row] !== falls) continue;
      const [top, bottom] = [Math.max(open[row], close[row]), Math.min(open[row], close[row])];
      trace(row, crisp(xOfRow(view, row, widthPx) - 0.5), Math.round(y(top)), Math.round(y(bottom)));
    }
  };
  for (const falls of [false, true])
    pen.stroke({ colour: falls ? inks.falling : inks.rising, widthPx: 1 }, (path) =>
      eachThat(falls, (row, x, top, bottom) => {
        path.moveTo(x, Math.round(y(high[row])));
        path.lineTo(x, top);
        path.moveTo(x, bottom);
        path.lineTo(x, Math.round(y(low[row])));
        const left = x - body / 2;
        if (falls) return;
        if (body < 3 || bottom - top < 2) {
          path.moveTo(left, crisp(top - 0.5));
          path.lineTo(left + body, crisp(top - 0.5));
          if (bottom > top) path.rect(x - 0.5, top, 1, bottom - top);
        } else path.rect(left + 0.5, top + 0.5, body - 1, bottom - top - 1);
      }),
    );
  pen.fill({ colour: inks.falling }, (path) =>
    eachThat(true, (_row, x, top, bottom) => path.rect(x - body / 2, top, body, Math.max(1, bottom - top))),
  );
}
