import { cyclic, inSpells, pair, persistent, reverting, type MakePath, type Path, type Steps } from './paths.js';
import { Random } from './random.js';

/** One made-up instrument: its level, its nature, and what a measure of it ought to find. */
export interface Instrument {
  name: string;
  /** Price in crowns at the first minute record. */
  level: number;
  /** Trades in an average minute. */
  pace: number;
  note: string;
  path: MakePath;
}

const lampAndWool = pair(0.85, 0.012, 110, 15, 0.09);

/** Both halves come from the same draws, so each is asked with a random source of the same seed. */
function half(which: 0 | 1): MakePath {
  return (steps: Steps): Path => lampAndWool(steps, new Random(4711 + steps.aDay))[which];
}

export const INSTRUMENTS: readonly Instrument[] = [
  {
    name: 'KELP',
    level: 78,
    pace: 6,
    note: 'Dried kelp, crowns a bale. Drifts and persists: its returns are fractional noise with H = 0.65.',
    path: persistent(0.65, 0.011, 0.0006),
  },
  {
    name: 'SALT',
    level: 41,
    pace: 7,
    note: 'Sea salt, crowns a sack. Swings back to its mean with a half-life of 1.5 trading days.',
    path: reverting(1.5, 0.014),
  },
  {
    name: 'AMBR',
    level: 312,
    pace: 4,
    note: 'Amber, crowns a gram. Quiet spells of 0.4 % a day and wild ones of 2.4 %, each about eight days long; H = 0.5.',
    path: inSpells(0.004, 0.024, 8),
  },
  {
    name: 'TIDE',
    level: 55,
    pace: 5,
    note: 'Tidal power hours. A cycle of one trading day and one of ten.',
    path: cyclic(0.018, 0.04, 0.004),
  },
  {
    name: 'LAMP',
    level: 23,
    pace: 5,
    note: 'Lamp oil, crowns a can. Its returns go with those of WOOL, correlation 0.85, but for three weeks from 9 February 2026.',
    path: half(0),
  },
  {
    name: 'WOOL',
    level: 64,
    pace: 5,
    note: 'Wool, crowns a fleece. Its returns go with those of LAMP, correlation 0.85, but for three weeks from 9 February 2026.',
    path: half(1),
  },
];
