import { INSTRUMENTS } from './instruments.js';
import { History, type Columns } from './records.js';

export { demoFiles, type DemoFile } from './files.js';
export { TARN_HARBOUR } from './market.js';
export { FLAWED_FILE_NAME, flawedFile } from './flawedFile.js';
export { INSTRUMENTS } from './instruments.js';
export { fractionalNoise } from './fractionalNoise.js';
export { Random } from './random.js';
export { History, type Columns } from './records.js';

/** One tape of the demo world. */
export interface DemoTape {
  name: string;
  kind: 'ticks' | 'bars';
  interval: string | undefined;
  note: string;
  columns: Columns;
}

const SEED = 20260202;

/** Every tape of the demo world, one after the other; the same on every machine. */
export function* demoTapes(): Generator<DemoTape> {
  for (const [index, instrument] of INSTRUMENTS.entries()) {
    const history = new History(instrument, SEED + index);
    const { name, note } = instrument;
    yield { name, kind: 'ticks', interval: undefined, note, columns: history.trades() };
    yield { name: `${name}_minutes`, kind: 'bars', interval: '1 minute', note, columns: history.minuteRecords() };
    yield { name: `${name}_days`, kind: 'bars', interval: '1 day', note, columns: history.dailyRecords() };
  }
}
