import { dayNumber, makeCalendar, DAY, HOUR } from '@jaunty-ledger/core';
import { TARN_HARBOUR } from './market.js';
import { Random } from './random.js';

/** A small file of trades with the flaws that real ones have, for trying the intake. Local times without offset. */
export const FLAWED_FILE_NAME = 'kelp-with-flaws.csv';

export function flawedFile(): string {
  const random = new Random(29);
  const calendar = makeCalendar(TARN_HARBOUR);
  const local = (instant: number) =>
    new Date(calendar.zone.wallAt(instant) / 1000).toISOString().slice(0, 23).replace('T', ' ');
  const lines: string[] = [];
  let price = 88;
  for (const date of ['2026-03-27', '2026-03-30', '2026-03-31', '2026-04-01']) {
    const { opensAt } = calendar.dayOn(dayNumber(date));
    const moments = Array.from({ length: 60 }, () => Math.floor(random.uniform() * 8 * 3_600_000) * 1000).sort(
      (a, b) => a - b,
    );
    for (const moment of moments) {
      price += 0.05 * random.normal();
      lines.push(`${local(opensAt + moment)},${price.toFixed(2)},${random.size()}`);
    }
  }
  const put = (at: number, ...lost: string[]) => lines.splice(at, 0, ...lost);
  put(30, lines[29], lines[29]); // the same record three times
  put(50, lines[20], lines[21]); // late: they stand far behind their time
  put(
    70,
    lines[70].replace(/,(\d+\.\d+),/, (_, p: string) => `,${(Number(p) * 10).toFixed(2)},`),
  ); // a slipped decimal point
  put(90, '2026-03-29 01:30:00.000,88.10,12'); // a clock time that this night did not have
  put(100, lines[100].replace(/,\d+$/, ',')); // no size
  put(110, lines[110].replace(/,(\d+\.\d+),/, ',n/a,')); // no number
  put(120, lines[120].replace(/,(\d+\.\d+),/, ',0.00,')); // no price
  const holiday = dayNumber('2026-04-03') * DAY + 11 * HOUR;
  lines.push(`${new Date(holiday / 1000).toISOString().slice(0, 23).replace('T', ' ')},88.40,5`); // the market was closed
  return `time,price,size\n${lines.join('\n')}\n`;
}
