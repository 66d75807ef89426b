import { serialize } from 'node:v8';
import type { StretchSkips } from '@jaunty-ledger/core';
import { keepStretch } from '../store/barStretches';
import type { StoredTape } from '../store/tapeRows';
import { recordsInRange } from './range';
import type { BarChoice, TapeStretch } from './tapeStretches';
import type { TaskKind } from './taskKind';

/** Bars of a stretch of a tape, which are kept with the store for whoever puts the tape's bars together. */
export const barStretch: TaskKind<BarChoice & { tape: StoredTape; stretch: TapeStretch; skips: StretchSkips }> = {
  isPart: true,
  records: ({ tape, stretch }) => recordsInRange(tape, stretch.range),
  run: async ({ tape, stretch: { range, key }, skips, ...choice }, { store, bars, course }) => {
    const stretch = await bars.stretchOf(tape, choice, course, { range, skips });
    await keepStretch(store, key, serialize(stretch), Date.now());
    return new Uint8Array(0);
  },
};
