import { scaleLinear, scaleLog, type ScaleLinear, type ScaleLogarithmic } from 'd3-scale';

export type PriceScale = ScaleLinear<number, number> | ScaleLogarithmic<number, number>;

/** How a scale is made of the values it has to show. */
export interface ScaleOptions {
  /** Columns stand on zero, so that their heights tell. */
  fromZero?: boolean;
  /** Equal shares take equal heights; only for values above 0. */
  log?: boolean;
  /** The extent as it is, without air. */
  fixed?: boolean;
  /** Kept free at the foot and at the head, for what is written there. */
  footPx?: number;
  headPx?: number;
}

/** Share of a lane's height that is kept free above and below its values. */
const AIR = 0.06;

/**
 * The scale of a lane.
 * @param extent  least and greatest value in view; undefined where there is none
 */
export function priceScale(
  extent: [number, number] | undefined,
  heightPx: number,
  { fromZero = false, log = false, fixed = false, footPx = 0, headPx = 0 }: ScaleOptions = {},
): PriceScale {
  let [low, high] = extent ?? [0, 1];
  const range = [heightPx - footPx, headPx];
  if (log && low > 0) {
    const factor = fixed ? 1 : Math.max(1.001, (high / low) ** AIR);
    return scaleLog([low / factor, high * factor], range);
  }
  if (fromZero) {
    low = Math.min(0, low);
    high = Math.max(0, high);
  }
  // a flat line stands in the middle of a scale of its own size
  const spread = high - low || Math.abs(high) * 0.01 || 1;
  if (high === low) {
    low -= spread / 2;
    high += spread / 2;
  }
  const air = fixed ? 0 : spread * AIR;
  return scaleLinear([fromZero && low === 0 ? 0 : low - air, fromZero && high === 0 ? 0 : high + air], range);
}

/** From one figure to the next, by which their places are chosen. */
export const stepOf = (ticks: readonly number[]): number => (ticks.length > 1 ? ticks[1] - ticks[0] : 1);

/** Figures on the axis: as many as have room, at least 22 px apart. */
const tickCount = (heightPx: number): number => Math.max(2, Math.min(8, Math.floor(heightPx / 34)));

/**
 * Values whose figures have room on an axis and are not cut by an edge: there the rule is left out too. A logarithmic scale
 * gives more than asked for, so they are thinned.
 */
export function readableTicks(scale: PriceScale, heightPx: number): number[] {
  const all = scale.ticks(tickCount(heightPx)).filter((tick) => scale(tick) > 8 && scale(tick) < heightPx - 8);
  const kept: number[] = [];
  for (const tick of all) if (kept.length === 0 || Math.abs(scale(tick) - scale(kept.at(-1)!)) >= 20) kept.push(tick);
  return kept;
}
