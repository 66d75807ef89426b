import { scaleLinear, type ScaleLinear } from 'd3-scale';

export type PriceScale = ScaleLinear<number, number>;

/** Share of a lane's height that is kept free above and below its values. */
const AIR = 0.06;

/**
 * The scale of a lane, fitted to what is visible.
 * @param extent  least and greatest value in view; undefined where there is none
 * @param fromZero  columns stand on zero, so that their heights tell
 * @param footPx  kept free at the foot, for what is written there
 */
export function priceScale(
  extent: [number, number] | undefined,
  heightPx: number,
  fromZero: boolean,
  footPx = 0,
): PriceScale {
  let [low, high] = extent ?? [0, 1];
  if (fromZero) low = Math.min(0, low);
  // a flat line stands in the middle of a scale of its own size
  const spread = high - low || Math.abs(high) * 0.01 || 1;
  if (high === low) {
    low -= spread / 2;
    high += spread / 2;
  }
  const air = spread * AIR;
  return scaleLinear([fromZero ? low : low - air, high + air], [heightPx - footPx, 0]);
}

/** Figures on the axis: as many as have room, at least 22 px apart. */
export const tickCount = (heightPx: number): number => Math.max(2, Math.min(8, Math.floor(heightPx / 34)));
