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

/** Figures on the axis: as many as have room, at least 22 px apart. */
const tickCount = (heightPx: number): number => Math.max(2, Math.min(8, Math.floor(heightPx / 34)));

/** Figures are no closer than this, and no nearer to an edge, where they would be cut. */
const LEAST_APART_PX = 20;
const EDGE_PX = 8;
/** Counts of figures that are asked for in turn, where fewer give less than two that have room. */
const MORE_FIGURES = [3, 4, 6, 10, 16, 30];

/**
 * Values whose figures have room on an axis and are not cut by an edge: there the rule is left out too. At least two, so
 * that they tell a scale, wherever there is room for two.
 */
export function readableTicks(scale: PriceScale, heightPx: number): number[] {
  const wanted = tickCount(heightPx);
  const [low, high] = scale.domain();
  // a logarithmic scale has round figures by powers of ten alone; between two of them those of a plain one are round
  const plain = scaleLinear([low, high], scale.range());
  for (const count of [wanted, ...MORE_FIGURES.filter((more) => more > wanted)])
    for (const ticks of [scale.ticks(count), plain.ticks(count)]) {
      const kept = withRoom(ticks, scale, heightPx);
      if (kept.length > 1) return kept;
    }
  return withRoom(scale.ticks(wanted), scale, heightPx);
}

function withRoom(ticks: readonly number[], scale: PriceScale, heightPx: number): number[] {
  const kept: number[] = [];
  for (const tick of ticks) {
    const at = scale(tick);
    if (!(at > EDGE_PX && at < heightPx - EDGE_PX)) continue;
    if (kept.length === 0 || Math.abs(at - scale(kept[kept.length - 1])) >= LEAST_APART_PX) kept.push(tick);
  }
  return kept;
}
