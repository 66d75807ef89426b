import { hourOfDay, weekdayOf, WEEKDAYS, type Calendar } from '@jaunty-ledger/core';
import { Findings } from '../checks/findings.js';
import type { FileLimits } from '../fileLimits.js';
import { asUtf8 } from '../formats/decoding.js';
import { DelimitedRows } from '../formats/delimitedRows.js';
import { RecordReader } from '../records/recordReader.js';
import { turned } from './across.js';
import type { HiddenRows } from './preview.js';
import { isDelimited, type Reading } from './reading.js';

/** Counts records that lie outside of a calendar's session: by the day where that is closed, else by the hour. */
export class HiddenCounter {
  readonly counts: HiddenRows = {
    rows: 0,
    hidden: 0,
    days: WEEKDAYS.map(() => 0),
    hours: new Array<number>(24).fill(0),
  };

  constructor(private readonly calendar: Calendar) {}

  add(time: number): void {
    const { counts, calendar } = this;
    counts.rows++;
    if (calendar.inSession(time)) return;
    counts.hidden++;
    const { open, date } = calendar.dayAt(time);
    if (open) counts.hours[hourOfDay(calendar.zone.wallAt(time))]++;
    else counts.days[weekdayOf(date)]++;
  }
}

/**
 * What a calendar would hide of the records of a text; undefined for formats that have no lines.
 * @param isWhole  whether the text is all of the file
 */
export async function hiddenInText(
  text: Uint8Array,
  reading: Reading,
  calendar: Calendar,
  limits: FileLimits,
  isWhole: boolean,
): Promise<HiddenRows | undefined> {
  if (!isDelimited(reading.format)) return undefined;
  const counter = new HiddenCounter(calendar);
  const sink = {
    add: (values: Float64Array) => counter.add(values[0]),
    addRows: ([time]: readonly Float64Array[], rows: number) => time.subarray(0, rows).forEach((at) => counter.add(at)),
  };
  const rows = new DelimitedRows(
    reading,
    new RecordReader(reading, calendar, new Findings({}), () => sink, limits.words),
  );
  const isTurned = reading.layout === 'across';
  const decoded = () => new TextDecoder(reading.encoding).decode(text).replace(/^\uFEFF/, '');
  const whole = async function* () {
    yield isTurned ? new TextEncoder().encode(turned(decoded(), reading.delimiter)) : text;
  };
  for await (const chunk of asUtf8(whole(), isTurned ? 'utf-8' : reading.encoding)) await rows.push(chunk);
  if (isWhole) await rows.end(); // else the last line is cut off
  return counter.counts;
}
