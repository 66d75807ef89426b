import { fractionalNoise } from './fractionalNoise.js';
import type { Random } from './random.js';

/** Logs of a price at the nodes of equal steps, `steps` + 1 of them, starting at 0. */
export type Path = Float64Array;

/** How the steps of a path lie in trading time. */
export interface Steps {
  count: number;
  /** Steps of one trading day: 480 for minutes, 1 for days. */
  aDay: number;
}

export type MakePath = (steps: Steps, random: Random) => Path;

function summed(moves: (step: number) => number, count: number): Path {
  const path = new Float64Array(count + 1);
  for (let step = 0; step < count; step++) path[step + 1] = path[step] + moves(step);
  return path;
}

/** Remembers its past: fractional noise of the given H, deviation `daily` over a day, drift a day. */
export function persistent(hurst: number, daily: number, drift: number): MakePath {
  return ({ count, aDay }, random) => {
    const noise = fractionalNoise(count, hurst, random);
    const scale = daily / aDay ** hurst;
    return summed((step) => drift / aDay + scale * noise[step], count);
  };
}

/** Swings back to its mean with a half-life in days. */
export function reverting(halfLife: number, daily: number): MakePath {
  return ({ count, aDay }, random) => {
    const kept = 2 ** (-1 / (halfLife * aDay));
    const scale = daily / Math.sqrt(aDay);
    const path = new Float64Array(count + 1);
    for (let step = 0; step < count; step++) path[step + 1] = kept * path[step] + scale * random.normal();
    return path;
  };
}

/** Quiet and wild spells, each of some days; no memory in direction. */
export function inSpells(quiet: number, wild: number, spellDays: number): MakePath {
  return ({ count, aDay }, random) => {
    let isWild = false;
    return summed(() => {
      if (random.uniform() < 1 / (spellDays * aDay)) isWild = !isWild;
      return ((isWild ? wild : quiet) / Math.sqrt(aDay)) * random.normal();
    }, count);
  };
}

/** A cycle a day (where steps are shorter than one) and one in ten trading days, with a little noise on top. */
export function cyclic(dayAmplitude: number, fortnightAmplitude: number, daily: number): MakePath {
  return ({ count, aDay }, random) => {
    const noise = reverting(2, daily)({ count, aDay }, random);
    const start = fortnightAmplitude * Math.sin(0);
    return noise.map((extra, step) => {
      const days = step / aDay;
      const ofDay = aDay > 1 ? dayAmplitude * Math.sin(2 * Math.PI * days) : 0;
      return ofDay + fortnightAmplitude * Math.sin((2 * Math.PI * days) / 10) - start + extra;
    });
  };
}

/** Two prices that move together, part for some days and come back. */
export function pair(correlation: number, daily: number, partFrom: number, partDays: number, apart: number) {
  return ({ count, aDay }: Steps, random: Random): [Path, Path] => {
    const scale = daily / Math.sqrt(aDay);
    const first = new Float64Array(count + 1);
    const second = new Float64Array(count + 1);
    let common = 0;
    let own = 0;
    for (let step = 0; step < count; step++) {
      const day = step / aDay;
      const parted = day >= partFrom && day < partFrom + partDays;
      const rho = parted ? 0 : correlation;
      common += scale * Math.sqrt(rho) * random.normal();
      // outside the parted days what is each one's own swings back, so that they stay together
      const kept = parted ? 1 : 2 ** (-1 / (3 * aDay));
      own = kept * own + scale * Math.sqrt((1 - rho) / 2) * random.normal() + (parted ? apart / (partDays * aDay) : 0);
      first[step + 1] = common + own;
      second[step + 1] = common - own;
    }
    return [first, second];
  };
}
